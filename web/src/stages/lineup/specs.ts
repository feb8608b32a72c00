import type { Schemas } from "../../api/client"

export type Machine = Schemas["Machine"]
export type Setup = Schemas["Setup"]

/** Fields that a machine can hold. */
export const MACHINE_FIELDS = [
  "form",
  "processor",
  "cores",
  "clock_ghz",
  "graphics",
  "graphics_memory_gb",
  "memory_gb",
  "storage_gb",
  "system",
  "obtained",
  "note",
] as const
/** Fields that a setup can hold of its own. */
export const SETUP_FIELDS = ["power", "clock_ghz", "memory_gb", "note"] as const

export type MachineField = (typeof MACHINE_FIELDS)[number]
export type SetupField = (typeof SETUP_FIELDS)[number]

const NUMBERS: readonly string[] = [
  "cores",
  "clock_ghz",
  "graphics_memory_gb",
  "memory_gb",
  "storage_gb",
  "room",
]

export function isMachineField(field: string): field is MachineField {
  return (MACHINE_FIELDS as readonly string[]).includes(field)
}

export function isSetupField(field: string): field is SetupField {
  return (SETUP_FIELDS as readonly string[]).includes(field)
}

export type ReadCell = { ok: true; value: string | number | null } | { ok: false; reason: string }

/** Reads a typed cell; a number may carry its unit and a decimal comma. */
export function readCell(field: string, text: string): ReadCell {
  const plain = text.trim()
  if (plain === "") return { ok: true, value: null }
  if (!NUMBERS.includes(field)) return { ok: true, value: plain }
  const match = /^(\d+(?:[.,]\d+)?)\s*(tb|gb|ghz|mhz|cores?|°c)?$/i.exec(plain)
  if (!match) return { ok: false, reason: `“${plain}” is not a number: type it like 16 or 3.6` }
  const unit = (match[2] ?? "").toLowerCase()
  const scale = unit === "tb" ? 1000 : unit === "mhz" ? 0.001 : 1
  const value = Number(match[1]?.replace(",", ".")) * scale
  if (field === "cores" && !Number.isInteger(value)) {
    return { ok: false, reason: "Cores are counted whole." }
  }
  return value > 0 ? { ok: true, value } : { ok: false, reason: "It must be more than 0." }
}

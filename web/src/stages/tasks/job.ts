import type { Schemas } from "../../api/client"
import { readNumber } from "../../theme/format"

export type Sheet = Schemas["TaskSheet"]
export type Change = Omit<Schemas["TaskChange"], "version">

/** What a run was a run of; a change of it after runs needs a decision. */
const JOB = ["operation", "settings", "starts_when", "ends_when", "app", "timeline"] as const

/** True where a change would make the runs that there are runs of something else. */
export function changesJob(sheet: Sheet, change: Change): boolean {
  if (sheet.runs === 0) return false
  return JOB.some((field) => {
    if (!(field in change)) return false
    if (field === "settings") return settingsDiffer(sheet.typed, change.settings ?? {})
    return (change[field] ?? null) !== (sheet.task[field] ?? null)
  })
}

function settingsDiffer(known: Record<string, string>, change: Record<string, string | null>) {
  return Object.entries(change).some(([field, text]) => (text ?? "") !== (known[field] ?? ""))
}

/** Settings of a preset over those that are there; what the preset leaves out is emptied. */
export function presetOver(
  known: Record<string, string>,
  preset: Record<string, string>,
): Record<string, string | null> {
  const emptied = Object.fromEntries(Object.keys(known).map((field) => [field, null]))
  return { ...emptied, ...preset }
}

/** Reads work as typed, `260 photos` or `660`; null if it is none. */
export function readWork(text: string): { work: number; unit: string | null } | null {
  const match = /^(\d+(?:[.,]\d+)?)\s*(.{0,40})$/.exec(text.trim())
  if (!match) return null
  const work = readNumber(match[1] ?? "") ?? 0
  return work > 0 ? { work, unit: match[2]?.trim() || null } : null
}

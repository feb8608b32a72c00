import type { Schemas } from "../../api/client"

export type Machine = Schemas["Machine"]
export type Setup = Schemas["Setup"]
export type Column = Schemas["MachineColumn"]
export type Row = Schemas["SpecRow"]

/** Which rows of the sheet are shown. */
export const SHOWN = ["main rows", "filled rows", "differences", "all rows"] as const
export type Shown = (typeof SHOWN)[number]

/** The rows by which people know a machine. */
const MAIN = new Set(["processor", "graphics", "memory_gb", "storage_gb", "system"])

export function isShown(row: Row, shown: Shown): boolean {
  switch (shown) {
    case "all rows":
      return true
    case "differences":
      return row.differs
    case "filled rows":
      return row.filled || row.free_row_id !== null
    default:
      return isMain(row) || row.on_trial || row.free_row_id !== null || isUnexpected(row)
  }
}

export const isMain = (row: Row) => MAIN.has(row.field)

/** Whether machines were tested in another state: what nobody expects of a comparison. */
export function isUnexpected(row: Row): boolean {
  return row.level === "setup" && row.differs && !row.on_trial
}

/** Rows under their headings, in their order. */
export function byGroup(rows: Row[]): [string, Row[]][] {
  const groups = new Map<string, Row[]>()
  for (const row of rows) groups.set(row.group, [...(groups.get(row.group) ?? []), row])
  return [...groups]
}

/** What a setup has in a row, as it would be typed. */
export function cellText(column: Column, field: string, place: number): string {
  return column.cells[field]?.[place]?.text ?? ""
}

/** True where the setups of a machine are not alike in a row, so that each has its own cell. */
export function isSplit(column: Column, row: Row): boolean {
  const cells = column.cells[row.field] ?? []
  const own = row.level === "machine" && cells.some((cell) => cell.own)
  return own || new Set(cells.map((cell) => cell.text)).size > 1
}

/** A stored value as it would be typed; the server's own way is the same. */
export function shownValue(value: unknown): string {
  if (value === null || value === undefined) return ""
  if (typeof value === "boolean") return value ? "yes" : "no"
  return Array.isArray(value) ? value.join(", ") : String(value)
}

/** The text of a spec file under the name of the machine that it was dropped on. */
export function namedSpecs(text: string, name: string): string {
  try {
    return JSON.stringify({ ...JSON.parse(text), name }, null, 1)
  } catch {
    // The server says what is wrong with it.
    return text
  }
}

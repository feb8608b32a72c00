/**
 * Roles of a table whose rows are laid out as grids, to be spread into plain elements: the
 * elements of a table lose their meaning in some browsers once they are laid out otherwise.
 */
export const TABLE = { role: "table" } as const
export const ROW_GROUP = { role: "rowgroup" } as const
export const ROW = { role: "row" } as const
export const COLUMN_HEAD = { role: "columnheader" } as const
export const ROW_HEAD = { role: "rowheader" } as const
export const CELL = { role: "cell" } as const

/** One of these with a name of its own, where what stands in it would be read as one. */
export const named = <Role extends { role: string }>(role: Role, label: string) => ({
  ...role,
  "aria-label": label,
})

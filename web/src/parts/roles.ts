/**
 * Roles of tables and lists whose rows are laid out otherwise, to be spread into plain elements:
 * the elements of a table lose their meaning in some browsers once they are laid out as grids.
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

export const LIST = { role: "list" } as const

/** An item of a list of which only a part is drawn: which one it is, of how many. */
export const itemOf = (place: number, count: number) =>
  ({ role: "listitem", "aria-posinset": place + 1, "aria-setsize": count }) as const

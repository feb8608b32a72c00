/** The list with `moved` taken out and put where `target` stands, on the side it came from. */
export function movedBefore(ids: string[], moved: string, target: string): string[] {
  const from = ids.indexOf(moved)
  const to = ids.indexOf(target)
  if (from < 0 || to < 0 || from === to) return ids
  const rest = ids.filter((id) => id !== moved)
  rest.splice(to, 0, moved)
  return rest
}

/** The list with an item one place to the left (-1) or right (+1). */
export function movedBy(ids: string[], moved: string, step: -1 | 1): string[] {
  const target = ids[ids.indexOf(moved) + step]
  return target === undefined ? ids : movedBefore(ids, moved, target)
}

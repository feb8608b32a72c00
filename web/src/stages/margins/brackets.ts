export type Bracket = {
  /** First and last row that it spans, counted from 0. */
  from: number
  to: number
  /** Lane beside the rows, 0 the nearest. */
  lane: number
}

/** One bracket for each range of ranks that spans more than one row, in lanes that do not meet. */
export function bracketsOf(rows: { best_rank: number; worst_rank: number }[]): Bracket[] {
  const ranges = new Map<string, { from: number; to: number }>()
  for (const { best_rank, worst_rank } of rows) {
    if (worst_rank > best_rank) {
      ranges.set(`${best_rank}-${worst_rank}`, { from: best_rank - 1, to: worst_rank - 1 })
    }
  }
  const placed: Bracket[] = []
  const wide = [...ranges.values()].sort((a, b) => a.from - b.from || b.to - a.to)
  for (const range of wide) {
    let lane = 0
    while (placed.some((p) => p.lane === lane && p.from <= range.to && range.from <= p.to)) lane++
    placed.push({ ...range, lane })
  }
  return placed
}

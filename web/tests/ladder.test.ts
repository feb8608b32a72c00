import { describe, expect, it } from "vitest"
import { zoomScale } from "../src/parts/rule/scale"
import { GROUP, ladderLayout } from "../src/stages/margins/ladderLayout"
import { zoomHeight } from "../src/stages/margins/Zoom"
import { rem } from "../src/theme/rem"

const ROWS = [
  { best_rank: 1, worst_rank: 3 },
  { best_rank: 1, worst_rank: 3 },
  { best_rank: 1, worst_rank: 3 },
  { best_rank: 4, worst_rank: 5 },
  { best_rank: 4, worst_rank: 5 },
  { best_rank: 6, worst_rank: 6 },
]
const GROUPS = [
  { first: 0, last: 2, words: "1–3 share first place" },
  { first: 3, last: 4, words: "4–5 equally fast" },
]

describe("the ranking's layout", () => {
  it("spans a group with its words by one bracket", () => {
    const { brackets, lanes } = ladderLayout(ROWS, GROUPS, null)
    expect(lanes).toBe(1)
    expect(brackets.map((each) => each.top)).toEqual([
      "calc(0 * var(--row) + 0.5rem)",
      `calc(3 * var(--row) + ${rem(GROUP + 8)})`,
    ])
    expect(brackets[0]?.height).toBe(`calc(3 * var(--row) + ${rem(GROUP - 16)})`)
  })
  it("moves what is below a zoom down, and spans the zoom", () => {
    const { brackets } = ladderLayout(ROWS, GROUPS, 0)
    expect(brackets[0]?.height).toBe(`calc(3 * var(--row) + ${rem(GROUP + zoomHeight(3) - 16)})`)
    expect(brackets[1]?.top).toBe(`calc(3 * var(--row) + ${rem(GROUP + zoomHeight(3) + 8)})`)
  })
  it("has words over no bracket that overlaps another", () => {
    const overlapping = [
      { best_rank: 1, worst_rank: 2 },
      { best_rank: 1, worst_rank: 3 },
      { best_rank: 2, worst_rank: 3 },
    ]
    const { brackets, lanes } = ladderLayout(overlapping, [], null)
    expect(brackets).toHaveLength(3)
    expect(lanes).toBe(3)
  })
})

describe("the zoom's scale", () => {
  it("holds what is close together, far from 1x, and labels it", () => {
    const scale = zoomScale([2.6, 2.9, 2.7, null])
    expect(scale.at(2.6)).toBeGreaterThan(0)
    expect(scale.at(2.9)).toBeLessThan(1)
    expect(scale.lo).toBeGreaterThan(2.5)
    expect(scale.ticks.length).toBeGreaterThanOrEqual(3)
    expect(scale.ticks).toContain(2.7)
  })
})

import { rem } from "../../theme/rem"
import { bracketsOf } from "./brackets"
import { zoomHeight } from "./Zoom"

type Ranked = { best_rank: number; worst_rank: number }
type Group = { first: number; last: number; words: string }

/** Of the words over a group, in pixels at the usual size of type. */
export const GROUP = 30

/** Where things stand on the ladder, as lengths for a style: rows are as high as the screen says. */
export function ladderLayout(rows: Ranked[], groups: Group[], zoomed: number | null) {
  const opened = groups.find((group) => group.first === zoomed)
  /** Pixels above a row that are no rows: words of groups, and the zoom of one before it. */
  const above = (row: number, itsOwnWords: boolean) =>
    GROUP *
      groups.filter((group) => group.first < row || (itsOwnWords && group.first === row)).length +
    (opened && opened.last < row ? zoomHeight(opened.last - opened.first + 1) : 0)
  const brackets = bracketsOf(rows).map((bracket) => {
    const group = groups.find((each) => each.first === bracket.from && each.last === bracket.to)
    const top = above(bracket.from, false)
    const own =
      (group ? GROUP : 0) +
      (group && group === opened ? zoomHeight(group.last - group.first + 1) : 0)
    const count = bracket.to - bracket.from + 1
    return {
      ...bracket,
      top: `calc(${bracket.from} * var(--row) + ${rem(top + 8)})`,
      height: `calc(${count} * var(--row) + ${rem(own - 16)})`,
    }
  })
  return { brackets, lanes: Math.max(1, ...brackets.map((bracket) => bracket.lane + 1)) }
}

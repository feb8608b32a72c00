/** Where everything stands in the field of price against speed: scales, steps, names. */
import { ticks } from "d3-array"
import { scaleLinear } from "d3-scale"
import type { Schemas } from "../../api/client"
import { fitScale, type RuleScale } from "../../parts/rule/scale"

export const HEIGHT = 380
export const [LEFT, RIGHT, TOP, BELOW] = [44, 14, 14, 44]
export const BOTTOM = HEIGHT - BELOW

/** A setup that has a price; `amount` is in the viewer's currency. */
export type Priced = Schemas["PickRow"] & { amount: number }

/** The field as it is drawn at one width. */
export type PriceField = {
  /** Width of the picture, in pixels. */
  width: number
  /** The dearest price in view. */
  most: number
  /** Pixel of a price. */
  x: (price: number) => number
  /** Pixel of a ratio. */
  y: (ratio: number) => number
  /** Price at a pixel, to the nearest ten. */
  priceAt: (pixel: number) => number
  /** Labelled prices and ratios. */
  prices: number[]
  speed: RuleScale
}

/** Those of the rows that have a price, with it as a number. */
export function pricedRows(rows: Schemas["PickRow"][]): Priced[] {
  return rows
    .filter((row) => row.price.amount !== null)
    .map((row) => ({ ...row, amount: Number(row.price.amount) }))
}

/** The dearest price that the field must show. */
export function mostOf(rows: Priced[], budget: number | null): number {
  return 1.08 * Math.max(...rows.map((row) => row.amount), budget ?? 0, 1)
}

/** Lays the field out. */
export function fieldOf(rows: Priced[], most: number, width: number): PriceField {
  const speed = fitScale(
    rows.flatMap((row) => [row.lo, row.hi]),
    6,
  )
  const x = scaleLinear([0, most], [LEFT, width - RIGHT])
  const y = scaleLinear([0, 1], [BOTTOM, TOP])
  return {
    width,
    most,
    x,
    y: (ratio) => y(speed.at(ratio)),
    priceAt: (pixel) => Math.max(0, Math.round(x.invert(pixel) / 10) * 10),
    prices: ticks(0, most, Math.max(2, Math.floor((width - LEFT) / 80))),
    speed,
  }
}

/** The frontier as a stepped line, from the cheapest on. */
export function stepsOf(rows: Priced[], { x, y }: PriceField): string {
  return rows
    .filter((row) => row.frontier)
    .sort((a, b) => a.amount - b.amount)
    .map((row, at) =>
      at === 0
        ? `M${x(row.amount)} ${BOTTOM} V${y(row.ratio)}`
        : `H${x(row.amount)} V${y(row.ratio)}`,
    )
    .join(" ")
}

export type PlacedName = { id: string; label: string; x: number; y: number }
type Box = { left: number; right: number; top: number; bottom: number }

/**
 * Names beside the marks: at the right, else at the left, above or below, wherever a name lies on
 * no mark and on no other name.
 */
export function namesOf(rows: Priced[], { x, y, width }: PriceField): PlacedName[] {
  const end = width - RIGHT
  const marks = rows.map((row) => ({ x: x(row.amount), y: y(row.ratio) }))
  const taken: Box[] = marks.map((mark) => around(mark.x - 9, mark.x + 9, mark.y, 18))
  const placed: PlacedName[] = []
  for (const row of [...rows].sort((a, b) => y(a.ratio) - y(b.ratio))) {
    const label = row.keep ? `keep ${row.label}` : row.label
    const long = 6.9 * label.length
    const [cx, cy] = [x(row.amount), y(row.ratio)]
    const mark = marks[rows.indexOf(row)]
    const middle = Math.min(Math.max(cx - long / 2, LEFT + 4), end - long)
    const tries: [number, number][] = [
      [cx + 21, cy],
      [cx - 21 - long, cy],
      [middle, cy - 24],
      [middle, cy + 24],
      [cx + 21, cy + 16],
      [cx - 21 - long, cy + 16],
      [middle, cy + 38],
    ]
    const free = tries.find(([from, line]) => {
      // Nothing may stand between a mark and its name either.
      const box = around(Math.min(from, cx + 10), Math.max(from + long, cx - 10), line, 13)
      const clear = !taken.some((other, at) => marks[at] !== mark && meet(other, box))
      return from >= LEFT && from + long <= end && clear
    })
    const [from, line] = free ?? [middle, cy + 38]
    taken.push(around(from, from + long, line, 13))
    placed.push({ id: row.setup_id, label, x: from, y: line + 4 })
  }
  return placed
}

function around(left: number, right: number, line: number, height: number): Box {
  return { left, right, top: line - height / 2, bottom: line + height / 2 }
}

function meet(one: Box, other: Box): boolean {
  return (
    one.left < other.right &&
    one.right > other.left &&
    one.top < other.bottom &&
    one.bottom > other.top
  )
}

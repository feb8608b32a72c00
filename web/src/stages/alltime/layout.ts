import { type ScaleLogarithmic, scaleLog } from "d3-scale"
import type { Schemas } from "../../api/client"

type View = Schemas["AllTimeView"]

export const TOP = 8
const ROW = 20
const CLOCK_TICKS = [
  1, 2, 3, 5, 10, 15, 20, 30, 45, 60, 90, 120, 180, 240, 360, 480, 720, 960, 1440, 1920, 2880, 3600,
  5400, 7200, 10_800, 14_400, 21_600, 28_800, 43_200, 86_400,
]
const LEAST_APART = 34

/** Marks of the axis within a domain, far enough apart to be read. */
export function axisTicks(time: boolean, y: ScaleLogarithmic<number, number>): number[] {
  const [from = 1, to = 1] = y.domain()
  const lo = Math.min(from, to)
  const hi = Math.max(from, to)
  const first = Math.floor(Math.log10(lo))
  const round = Array.from({ length: Math.ceil(Math.log10(hi)) - first + 1 }, (_, at) => at + first)
    .flatMap((power) => [1, 1.5, 2, 3, 4, 6, 8].map((step) => step * 10 ** power))
    .map((tick) => Number(tick.toPrecision(3)))
  const found: number[] = []
  for (const tick of time ? CLOCK_TICKS : round) {
    const last = found.at(-1)
    if (tick < lo || tick > hi) continue
    if (last === undefined || Math.abs(y(tick) - y(last)) >= LEAST_APART) found.push(tick)
  }
  return found
}

/** Puts labels where they belong, moved apart as little as keeps each `gap` from the next. */
export function spreadLabels(wanted: number[], gap: number): number[] {
  const order = wanted.map((at, index) => ({ at, index })).sort((a, b) => a.at - b.at)
  // Labels that touch are one block, which stands around the middle of what its labels want.
  const blocks: { from: number; members: number[] }[] = []
  for (const { at, index } of order) {
    blocks.push({ from: at, members: [index] })
    for (;;) {
      const last = blocks.at(-1)
      const before = blocks.at(-2)
      if (!last || !before || before.from + before.members.length * gap <= last.from) break
      const members = [...before.members, ...last.members]
      const middle = members.reduce((sum, each) => sum + (wanted[each] ?? 0), 0) / members.length
      blocks.splice(-2, 2, { from: middle - ((members.length - 1) * gap) / 2, members })
    }
  }
  const found: number[] = []
  for (const block of blocks) {
    block.members.forEach((index, place) => {
      found[index] = block.from + place * gap
    })
  }
  return found
}

/** Where everything of the picture stands, in pixels. */
export function timeLayout(view: View, width: number) {
  const ranked = view.lines.filter((line) => line.value !== null)
  const height = Math.max(300, Math.min(640, ranked.length * 30))
  const left = 58
  const right = width < 560 ? 178 : 260
  const values = ranked.flatMap((line) => [
    line.lo ?? 1,
    line.hi ?? 1,
    ...line.points.map((point) => point.value),
  ])
  const lo = Math.min(...values)
  const hi = Math.max(...values)
  const time = view.measure === "time"
  // The best is at the top: the shortest time, or the largest amount.
  const y = scaleLog()
    .domain(time ? [lo * 0.97, hi * 1.03] : [hi * 1.03, lo * 0.97])
    .range([TOP, height - TOP])
  const newest = view.versions.length - 1
  const first = Math.min(...ranked.flatMap((line) => line.points.map((point) => point.column)))
  const span = Math.max(1, newest - first)
  const x = (column: number) =>
    newest === first
      ? left + (width - left - right) / 2
      : left + ((width - left - right) * (column - first)) / span
  const wanted = ranked.map((line) => y(line.value ?? 1))
  const labels = spreadLabels(wanted, ROW)
  const below = Math.max(height, ...labels.map((at) => at + ROW))
  const above = Math.min(0, ...labels.map((at) => at - ROW / 2))
  return {
    ranked,
    height: below - above,
    above,
    left,
    right,
    width,
    x,
    y,
    labels,
    newest,
    first,
    time,
  }
}

export type TimeLayout = ReturnType<typeof timeLayout>

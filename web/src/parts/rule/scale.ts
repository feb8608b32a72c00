/** The rule's scale: ratios on a log axis, as parts of its width. */
import { ticks as linearTicks } from "d3-array"
import { scaleLog } from "d3-scale"

export type RuleScale = {
  /** Ends of the scale, as ratios. */
  lo: number
  hi: number
  /** Place of a ratio, 0 at the left end to 1 at the right. */
  at: (ratio: number) => number
  /** Labelled ratios. */
  ticks: number[]
  /** Unlabelled ratios between them. */
  minor: number[]
}

/** Ratios that people say: a log scale's own ticks skip 1.5 and name 9. */
const NICE = [0.01, 0.02, 0.05, 0.1, 0.2, 0.3, 0.5, 0.7, 1, 1.5, 2, 3, 4, 6, 8, 12, 20, 50, 100]
const FINE = [
  0.5, 0.6, 0.7, 0.8, 0.9, 0.95, 1, 1.05, 1.1, 1.2, 1.3, 1.4, 1.5, 1.6, 1.7, 1.8, 1.9, 2, 2.2, 2.4,
  2.6, 2.8, 3, 3.5, 4,
]
const MARGIN = 0.06

/** Fits a scale to ratios with 1x always in view. */
export function fitScale(ratios: (number | null)[], labels = 7): RuleScale {
  const known = ratios.filter((r): r is number => r !== null && r > 0 && Number.isFinite(r))
  const low = Math.min(1, ...known)
  const high = Math.max(1, ...known)
  const margin = Math.exp(Math.max(Math.log(high / low), 0.06) * MARGIN)
  const [lo, hi] = [low / margin, high * margin]
  const at = scaleLog([lo, hi], [0, 1])
  const candidates = ticksWithin(lo, hi)
  return { lo, hi, at, ticks: thin(candidates, at, labels), minor: candidates }
}

/** Fits a scale to ratios that are close to each other; 1x may be far outside. */
export function zoomScale(ratios: (number | null)[]): RuleScale {
  const known = ratios.filter((r): r is number => r !== null && r > 0 && Number.isFinite(r))
  const [low, high] = [Math.min(...known), Math.max(...known)]
  const margin = Math.exp(Math.max(Math.log(high / low), 0.01) * MARGIN)
  const [lo, hi] = [low / margin, high * margin]
  const at = scaleLog([lo, hi], [0, 1])
  return { lo, hi, at, ticks: linearTicks(lo, hi, 4), minor: linearTicks(lo, hi, 12) }
}

function ticksWithin(lo: number, hi: number): number[] {
  const inside = (list: number[]) => list.filter((tick) => tick >= lo && tick <= hi)
  if (hi / lo > 6) return inside(NICE)
  if (hi / lo > 1.5) return inside(FINE)
  const step = hi - lo > 0.2 ? 0.05 : hi - lo > 0.08 ? 0.02 : 0.01
  return linearTicks(lo, hi, Math.round((hi - lo) / step))
}

/** Keeps 1x, then every tick that stands clear of those kept. */
function thin(candidates: number[], at: (ratio: number) => number, labels: number): number[] {
  const clear = 1 / labels
  const kept = [1]
  for (const tick of [...candidates].sort((a, b) => weight(a) - weight(b))) {
    if (kept.every((other) => Math.abs(at(other) - at(tick)) >= clear)) kept.push(tick)
  }
  return kept.sort((a, b) => a - b)
}

/** Round ratios come first: 2x before 1.5x before 1.4x. */
function weight(tick: number): number {
  if ([0.5, 2, 4].includes(tick)) return 0
  if (Number.isInteger(tick) || [1.5, 0.1, 0.2].includes(tick)) return 1
  return Number((tick * 10).toFixed(6)) % 1 === 0 ? 2 : 3
}

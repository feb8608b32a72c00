/** Where everybody is at a moment of a race; as `core/race.py`. */

/** Seconds after the start, each with the part of the work done then; both rise. */
export type Points = readonly (readonly number[])[]

const span = (points: Points, place: number) => {
  const [t0 = 0, p0 = 0] = points[place - 1] ?? []
  const [t1 = 0, p1 = 0] = points[place] ?? []
  return { t0, p0, t1, p1 }
}

/** Last moment of a run. */
export const endOf = (points: Points): number => points[points.length - 1]?.[0] ?? 0

/** The part of its work (0 to 1) that a run had done so many seconds after its start. */
export function doneAt(points: Points, at: number): number {
  const after = points.findIndex(([t]) => (t ?? 0) > at)
  if (after === 0) return 0
  if (after < 0) return points[points.length - 1]?.[1] ?? 0
  const { t0, p0, t1, p1 } = span(points, after)
  return p0 + ((p1 - p0) * (at - t0)) / (t1 - t0)
}

/** When a run first had done this part of its work; infinity where it never had. */
export function reachedAt(points: Points, fraction: number): number {
  for (let place = 1; place < points.length; place += 1) {
    const { t0, p0, t1, p1 } = span(points, place)
    if (fraction <= p1) {
      return p1 === p0 ? t0 : t0 + ((t1 - t0) * Math.max(fraction - p0, 0)) / (p1 - p0)
    }
  }
  return Number.POSITIVE_INFINITY
}

/** The runs by how far they are; of those that are level the one that was there first. */
export function placesAt(runs: readonly Points[], at: number): number[] {
  const far = runs.map((points) => doneAt(points, at))
  const when = runs.map((points, i) => reachedAt(points, far[i] ?? 0))
  const by = (i: number, j: number) =>
    (far[j] ?? 0) - (far[i] ?? 0) || (when[i] ?? 0) - (when[j] ?? 0) || i - j
  return runs.map((_, i) => i).sort(by)
}

export type Lead = { first: number; second: number | null; gap: number; gapS: number }

/** Who is ahead, by how much of the work, and how long ago it was where the second is now. */
export function leadAt(runs: readonly Points[], at: number): Lead | null {
  const [first, second] = placesAt(runs, at)
  if (first === undefined || at <= 0) return null
  const ahead = runs[first]
  const behind = second === undefined ? undefined : runs[second]
  if (!ahead || !behind || second === undefined) return { first, second: null, gap: 0, gapS: 0 }
  const here = doneAt(behind, at)
  const gapS = Math.max(Math.min(at, endOf(behind)) - reachedAt(ahead, here), 0)
  return { first, second, gap: Math.max(doneAt(ahead, at) - here, 0), gapS }
}

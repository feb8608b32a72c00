/** The frames of a film, by the times at which each is shown; the film stays on this device. */

/** When each frame of a film is shown. */
export type Film = {
  name: string
  /** In seconds, in order. */
  times: Float64Array
  /** How long the last frame is shown, in seconds. */
  lastS: number
}

export class FilmError extends Error {}

/** A film of these times, in whatever order they were stored. */
export function filmOf(name: string, stored: number[], lastS: number): Film {
  // What comes before the beginning is there for the decoder alone.
  const times = Float64Array.from(stored.filter((time) => time >= 0)).sort()
  if (times.length < 2) throw new FilmError(`${name} has no frames to step through.`)
  return { name, times, lastS: lastS > 0 ? lastS : usualS(times) }
}

/** How long a frame is shown on the whole, in seconds. */
function usualS(times: Float64Array): number {
  return ((times.at(-1) ?? 0) - (times[0] ?? 0)) / (times.length - 1)
}

/** How long a frame is shown, in seconds. */
export function frameS(film: Film, at: number): number {
  const next = film.times[at + 1]
  return next === undefined ? film.lastS : next - (film.times[at] ?? 0)
}

/** The frame that is shown at a moment. */
export function frameAt(film: Film, seconds: number): number {
  let low = 0
  let high = film.times.length - 1
  while (low < high) {
    const middle = Math.ceil((low + high) / 2)
    if ((film.times[middle] ?? 0) <= seconds + 1e-6) low = middle
    else high = middle - 1
  }
  return low
}

/** Frames a second, as a person would say it; null where they are not evenly apart. */
export function rateOf(film: Film): number | null {
  const usual = usualS(film.times)
  for (let at = 0; at + 1 < film.times.length; at += 1) {
    // Some films keep their times in thousandths.
    if (Math.abs(frameS(film, at) - usual) > 0.0011) return null
  }
  return 1 / usual
}

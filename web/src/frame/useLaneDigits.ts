import { benchOf, useRunning } from "../lanes/bench"
import { laneOf } from "../lanes/desk"
import { momentOf } from "../lanes/lane"
import { singleKeysOn, useKeys } from "../parts/useKeys"

/**
 * While a lane runs its digit stops it, on every stage, but for whoever only reads; gives how
 * many run.
 */
export function useLaneDigits(slug: string, reads: boolean): number {
  const running = useRunning(slug)
  useKeys((event) => {
    const digit = /^(?:Digit|Numpad)([1-8])$/.exec(event.code)?.[1]
    if (reads || digit === undefined || event.shiftKey || !singleKeysOn()) return false
    const bench = benchOf(slug)
    const number = Number(digit)
    if (laneOf(bench.read().desk, number)?.phase !== "running") return false
    bench.stop(number, momentOf(event))
    return true
  })
  return running
}

import { useEffect, useState } from "react"
import type { Bench, BenchState } from "../../lanes/bench"
import { nextArmed } from "../../lanes/desk"
import * as lanes from "../../lanes/lane"

const TICK_MS = 50

/** Counts down to a start that several hands can meet; shown where timers wait for a press. */
export function CountDown({ bench, state }: { bench: Bench; state: BenchState }) {
  const { startsAt } = state
  const [at, setAt] = useState(lanes.now)
  useEffect(() => {
    if (startsAt === null) return
    setAt(lanes.now())
    const timer = setInterval(() => setAt(lanes.now()), TICK_MS)
    return () => clearInterval(timer)
  }, [startsAt])
  if (startsAt === null) {
    if (nextArmed(state.desk) === null) return null
    return (
      <button
        type="button"
        className="btn btn-sm btn-ghost"
        title="Press start on the exports as the count reaches nought"
        onClick={() => bench.countDown()}
      >
        Count down and start <kbd className="kbd kbd-sm">C</kbd>
      </button>
    )
  }
  const left = Math.max(1, Math.ceil((startsAt - at) / 1000))
  return (
    <button type="button" className="btn btn-sm" onClick={() => bench.countDown()}>
      <span className="figure text-28 font-bold" role="timer" aria-live="assertive">
        {left}
      </span>
      Call it off <kbd className="kbd kbd-sm">C</kbd>
    </button>
  )
}

import { useQuery } from "@tanstack/react-query"
import { useEffect, useRef } from "react"
import { benchQuery } from "../api/queries"
import { useBench } from "../lanes/bench"
import { elapsed, now } from "../lanes/lane"

const LOOK_MS = 500

/** On every stage: sounds once when a lane goes past the best so far; gives what is to be said. */
export function useLaneSignals(slug: string): string {
  const { bench, state } = useBench(slug)
  const running = state.desk.lanes.some((lane) => lane.phase === "running")
  const best = useQuery({ ...benchQuery(slug), enabled: running }).data?.best
  const said = useRef(new Set<string>())
  useEffect(() => {
    if (!running || !best) return
    const timer = setInterval(() => {
      for (const lane of bench.read().desk.lanes) {
        const value = best.find((each) => each.task_id === lane.taskId)?.value
        if (lane.phase !== "running" || value === undefined || said.current.has(lane.key)) continue
        if (elapsed(lane, now()) <= value) continue
        said.current.add(lane.key)
        bench.signal("past", `lane ${lane.number} is past the best so far`)
      }
    }, LOOK_MS)
    return () => clearInterval(timer)
  }, [running, best, bench])
  return state.signal
}

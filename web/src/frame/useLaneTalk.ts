import { useQuery } from "@tanstack/react-query"
import { useEffect, useRef } from "react"
import { lineupQuery } from "../api/queries"
import { useBench } from "../lanes/bench"
import type { NumberedLane } from "../lanes/desk"
import { elapsed } from "../lanes/lane"
import { announce } from "../reach/announce"
import { clock, count } from "../theme/format"

const RESOLUTION_S = 0.1

/**
 * Says of every timer that it has started and that it has ended, with its time, and what the run
 * means once the book has it; on every stage. How far it is, is not said: it would never end.
 */
export function useLaneTalk(slug: string): void {
  const { state } = useBench(slug)
  const running = state.desk.lanes.length > 0
  const setups = useQuery({ ...lineupQuery(slug), enabled: running }).data?.setups
  const before = useRef<readonly NumberedLane[]>(state.desk.lanes)
  const { lanes } = state.desk
  useEffect(() => {
    const known = before.current
    before.current = lanes
    for (const lane of lanes) {
      const phase = known.find((each) => each.id === lane.id)?.phase
      if (phase === undefined || phase === lane.phase) continue
      const label = setups?.find((setup) => setup.id === lane.setupId)?.label
      announce(`Timer ${lane.number}${label ? `, ${label},` : ""} ${happened(phase, lane)}`)
    }
  }, [lanes, setups])
  const { result } = state
  const told = useRef(result)
  useEffect(() => {
    if (result === null || result === told.current) return
    told.current = result
    announce(result.doubt ? `Check it: ${result.doubt}` : result.says)
    if (result.changes.length > 0) announce(`${count(result.changes.length, "result")} changed.`)
  }, [result])
}

function happened(before: NumberedLane["phase"], lane: NumberedLane): string {
  if (lane.phase === "running") return before === "stopped" ? "runs on." : "started."
  if (lane.phase === "stopped") return `ended: ${clock(elapsed(lane, 0), RESOLUTION_S)}.`
  return "is ready."
}

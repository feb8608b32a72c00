import { useEffect, useState } from "react"
import * as lanes from "../../lanes/lane"

const TICK_MS = 100

/** The moment to draw, ten times a second while the clock runs or a press can be undone. */
export function useNow(lane: lanes.Lane): number {
  const [at, setAt] = useState(lanes.now)
  useEffect(() => {
    setAt(lanes.now())
    const timer = setInterval(() => setAt(lanes.now()), TICK_MS)
    if (lane.phase !== "running" && !lanes.canUndo(lane, lanes.now())) clearInterval(timer)
    return () => clearInterval(timer)
  }, [lane])
  return at
}

/** One lane: a stopwatch whose times are those of the presses, whatever the network does. */

export const UNDO_MS = 10_000
/** Hand presses are told to a tenth of a second; the reading's uncertainty is larger anyway. */
export const RESOLUTION_S = 0.1

export type Lane = {
  setupId: string
  taskId: string
  phase: "armed" | "running" | "stopped"
  /** Moment of the start press, in ms; monotonic within a page, and it survives a reload. */
  startedAt: number
  stoppedAt: number
  /** Moment of the last press that can be undone; 0 where there is none. */
  pressedAt: number
  /** Key of the run, so that sending it twice stores it once. */
  key: string
}

/** Now in ms: the page's monotonic clock on top of the wall clock that it began with. */
export function now(): number {
  return performance.timeOrigin + performance.now()
}

export function armed(setupId: string, taskId: string, key: string): Lane {
  return { setupId, taskId, phase: "armed", startedAt: 0, stoppedAt: 0, pressedAt: 0, key }
}

export function started(lane: Lane, at: number): Lane {
  return { ...lane, phase: "running", startedAt: at, stoppedAt: 0, pressedAt: at }
}

export function stopped(lane: Lane, at: number): Lane {
  return { ...lane, phase: "stopped", stoppedAt: at, pressedAt: at }
}

/** Takes the last press back; after a stop the clock never stopped running underneath. */
export function undone(lane: Lane): Lane {
  return lane.phase === "stopped"
    ? { ...lane, phase: "running", stoppedAt: 0, pressedAt: 0 }
    : { ...lane, phase: "armed", startedAt: 0, pressedAt: 0 }
}

export function canUndo(lane: Lane, at: number): boolean {
  return lane.pressedAt > 0 && at - lane.pressedAt <= UNDO_MS
}

/** Seconds on the clock. */
export function elapsed(lane: Lane, at: number): number {
  if (lane.phase === "armed") return 0
  return Math.max(0, ((lane.phase === "stopped" ? lane.stoppedAt : at) - lane.startedAt) / 1000)
}

export function isLane(value: unknown): value is Lane {
  if (typeof value !== "object" || value === null) return false
  const lane = value as Record<string, unknown>
  const texts = [lane.setupId, lane.taskId, lane.key].every((each) => typeof each === "string")
  const times = [lane.startedAt, lane.stoppedAt, lane.pressedAt].every(Number.isFinite)
  return texts && times && ["armed", "running", "stopped"].includes(String(lane.phase))
}

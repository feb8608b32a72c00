/** One lane: a stopwatch whose times are those of the presses, whatever the network does. */
import type { Schemas } from "../api/client"

export const UNDO_MS = 10_000
/** So long after a press that was taken back it can be put back. */
export const REDO_MS = 60_000
/** The big clock shows tenths: more would only flicker. */
export const RESOLUTION_S = 0.1
/** What the book is told: the press itself. How well a hand presses is the reading's uncertainty. */
export const TOLD_S = 0.01

/** A reading inside a run: seconds since the start, and at least one thing that it says. */
export type MarkAt = Partial<Schemas["MarkFields"]> & {
  elapsed_s: number
  /** It was taken back: it stays, and counts nowhere. */
  withdrawn?: true
}
export type Conditions = Schemas["StartConditions"]

/** When a lane was touched last and by whom; own moments are on this device's clock. */
export type Stamp = { own: boolean; at: number; client: string; seq: number }

export type Lane = {
  id: string
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
  /** Moment of the press that was taken back last, and which it was; it can be put back. */
  redo: { press: "start" | "stop"; at: number } | null
  /** Presses of this run that were taken back or corrected. */
  undone: number
  /** Device on whose clock the start was pressed; empty for this one. */
  startedBy: string
  /** Half the shortest round trip of that device, in seconds. */
  startU: number
  /** Seconds of a stopped run, and what two devices add to its uncertainty. */
  elapsedS: number | null
  placedU: number
  /** Who stops it. */
  timedBy: "hand" | "watcher" | "rig"
  /** How much faster than life a simulated rig runs. */
  factor: number
  /** What was seen before the start. */
  conditions: Conditions
  stamp: Stamp | null
}

/** Now in ms: the page's monotonic clock on top of the wall clock that it began with. */
export function now(): number {
  return performance.timeOrigin + performance.now()
}

/** The moment of a press: when the browser saw it, however long it took to get here. */
export function momentOf(event: { timeStamp: number }): number {
  return performance.timeOrigin + event.timeStamp
}

export function armed(setupId: string, taskId: string, key: string): Lane {
  return {
    id: key,
    setupId,
    taskId,
    phase: "armed",
    startedAt: 0,
    stoppedAt: 0,
    pressedAt: 0,
    key,
    redo: null,
    undone: 0,
    startedBy: "",
    startU: 0,
    elapsedS: null,
    placedU: 0,
    timedBy: "hand",
    factor: 1,
    conditions: {},
    stamp: null,
  }
}

/** The same lane, ready for another run. */
export function renewed(lane: Lane, taskId: string, key: string): Lane {
  const { id, setupId, timedBy, factor, conditions, stamp } = lane
  return { ...armed(setupId, taskId, key), id, timedBy, factor, conditions, stamp }
}

export function started(lane: Lane, at: number, startU = 0): Lane {
  return {
    ...lane,
    phase: "running",
    startedAt: at,
    stoppedAt: 0,
    pressedAt: at,
    redo: null,
    startedBy: "",
    startU,
    elapsedS: null,
    placedU: 0,
  }
}

/** Stops; a start on another device adds half of both round trips to the uncertainty. */
export function stopped(lane: Lane, at: number, stopU = 0): Lane {
  const running = { ...lane, phase: "running" as const }
  return {
    ...lane,
    phase: "stopped",
    stoppedAt: at,
    pressedAt: at,
    redo: null,
    elapsedS: elapsed(running, at),
    placedU: lane.startedBy === "" ? 0 : lane.startU + stopU,
  }
}

/** Takes the last press back; after a stop the clock never stopped running underneath. */
export function undone(lane: Lane): Lane {
  const back = { ...lane, pressedAt: 0, undone: lane.undone + 1, elapsedS: null, placedU: 0 }
  const redo = { press: pressOf(lane), at: lane.pressedAt }
  return lane.phase === "stopped"
    ? { ...back, redo, phase: "running", stoppedAt: 0 }
    : { ...back, redo, phase: "armed", startedAt: 0, startedBy: "", startU: 0 }
}

/** Which press of a lane was the last one. */
export function pressOf(lane: Lane): "start" | "stop" {
  return lane.phase === "stopped" ? "stop" : "start"
}

/** Whether a press that was taken back can be put back where it was. */
export function canRedo(lane: Lane, at: number): boolean {
  const { redo } = lane
  if (redo === null || at - redo.at > REDO_MS) return false
  return redo.press === "stop" ? lane.phase === "running" : lane.phase === "armed"
}

/** Corrects a late or early press of a stopped run, in seconds: late is positive. */
export function corrected(lane: Lane, press: "start" | "stop", lateS: number): Lane {
  const seconds = elapsed(lane, 0) + (press === "start" ? lateS : -lateS)
  return { ...lane, pressedAt: 0, undone: lane.undone + 1, elapsedS: Math.max(seconds, 0) }
}

export function canUndo(lane: Lane, at: number): boolean {
  return lane.timedBy === "hand" && lane.pressedAt > 0 && at - lane.pressedAt <= UNDO_MS
}

/** Seconds on the clock; those of a rig pass faster than life. */
export function elapsed(lane: Lane, at: number): number {
  if (lane.phase === "armed") return 0
  if (lane.phase === "stopped" && lane.elapsedS !== null) return lane.elapsedS
  const end = lane.phase === "stopped" ? lane.stoppedAt : at
  return Math.max(0, ((end - lane.startedAt) / 1000) * lane.factor)
}

export function isLane(value: unknown): value is Lane {
  if (typeof value !== "object" || value === null) return false
  const lane = value as Record<string, unknown>
  const texts = [lane.setupId, lane.taskId, lane.key].every((each) => typeof each === "string")
  const times = [lane.startedAt, lane.stoppedAt, lane.pressedAt].every(Number.isFinite)
  return texts && times && ["armed", "running", "stopped"].includes(String(lane.phase))
}

/** A lane that an older page kept, with what it did not know. */
export function completed<Kept extends Lane>(lane: Kept): Kept {
  return { ...armed(lane.setupId, lane.taskId, lane.key), ...lane }
}

/** The desk: up to eight lanes, their queues and marks; every change is a new value. */
import * as lanes from "./lane"
import { newest, standing } from "./marks"

export const MOST_LANES = 8

export type NumberedLane = lanes.Lane & {
  /** Its digit key, 1 to 8. */
  number: number
  /** Tasks that come after the current one. */
  queue: string[]
  marks: lanes.MarkAt[]
}
/** What a mark says besides its time. */
export type Said = Omit<lanes.MarkAt, "elapsed_s" | "withdrawn">
export type Desk = {
  lanes: NumberedLane[]
  /** Number of the lane that letters act on; 0 where there is none. */
  selected: number
}

export const EMPTY: Desk = { lanes: [], selected: 0 }

/** Adds a lane with the lowest free number; the desk is as it was where all are taken. */
export function withLane(
  desk: Desk,
  setupId: string,
  tasks: string[],
  key: string,
  timedBy: lanes.Lane["timedBy"] = "hand",
): Desk {
  const [task, ...queue] = tasks
  const taken = desk.lanes.map((lane) => lane.number)
  const free = Array.from({ length: MOST_LANES }, (_, n) => n + 1).find((n) => !taken.includes(n))
  // One that has ended makes room: its run is in the book.
  const number = free ?? desk.lanes.find((lane) => lane.phase === "stopped")?.number
  if (number === undefined || task === undefined) return desk
  const lane = { ...lanes.armed(setupId, task, key), timedBy, number, queue, marks: [] }
  const others = desk.lanes.filter((each) => each.number !== number)
  const sorted = [...others, lane].sort((a, b) => a.number - b.number)
  return { lanes: sorted, selected: desk.selected || number }
}

export function without(desk: Desk, number: number): Desk {
  const left = desk.lanes.filter((lane) => lane.number !== number)
  const selected = desk.selected === number ? (left[0]?.number ?? 0) : desk.selected
  return { lanes: left, selected }
}

/** Whether another timer can be added: eight, less those that have ended. */
export function hasRoom(desk: Desk): boolean {
  return desk.lanes.filter((lane) => lane.phase !== "stopped").length < MOST_LANES
}

/** The desk without the lanes that have ended. */
export function cleared(desk: Desk): Desk {
  const ended = desk.lanes.filter((lane) => lane.phase === "stopped")
  return ended.reduce((now, lane) => without(now, lane.number), desk)
}

/** Selects the lane above or below the one that letters act on, round and round. */
export function stepped(desk: Desk, by: 1 | -1): Desk {
  const at = desk.lanes.findIndex((lane) => lane.number === desk.selected)
  const many = desk.lanes.length
  const next = desk.lanes[(Math.max(at, 0) + (at < 0 ? 0 : by) + many) % many]
  return next ? { ...desk, selected: next.number } : desk
}

/** The lane whose press was taken back last and can be put back. */
export function redoable(desk: Desk, at: number): NumberedLane | undefined {
  return desk.lanes
    .filter((lane) => lanes.canRedo(lane, at))
    .sort((a, b) => (b.redo?.at ?? 0) - (a.redo?.at ?? 0))[0]
}

export function laneOf(desk: Desk, number: number): NumberedLane | undefined {
  return desk.lanes.find((lane) => lane.number === number)
}

function put(desk: Desk, lane: NumberedLane): Desk {
  return {
    lanes: desk.lanes.map((each) => (each.number === lane.number ? lane : each)),
    selected: lane.number,
  }
}

/** Whether a lane waits for a press, and not for the first byte of a file. */
function byPress(lane: NumberedLane): boolean {
  return lane.phase === "armed" && lane.timedBy !== "watcher"
}

/** The armed lane that comes next: after the one pressed last, round and round. */
export function nextArmed(desk: Desk): number | null {
  const armed = desk.lanes.filter(byPress)
  const after = armed.find((lane) => lane.number > desk.selected)
  const selected = armed.find((lane) => lane.number === desk.selected)
  return (selected ?? after ?? armed[0])?.number ?? null
}

/** Starts a lane; ``startU`` is half this device's shortest round trip, in seconds. */
export function start(desk: Desk, number: number, at: number, startU = 0): Desk {
  const lane = laneOf(desk, number)
  if (lane?.phase !== "armed") return desk
  return put(desk, { ...lane, ...lanes.started(lane, at, startU), marks: [] })
}

export function startAll(desk: Desk, at: number, startU = 0): Desk {
  const armed = desk.lanes.filter(byPress)
  return armed.reduce((now, lane) => start(now, lane.number, at, startU), desk)
}

export function stop(desk: Desk, number: number, at: number, stopU = 0): Desk {
  const lane = laneOf(desk, number)
  if (lane?.phase !== "running") return desk
  return put(desk, { ...lane, ...lanes.stopped(lane, at, stopU) })
}

/** The lane of an id, while it is about this run. */
export function byRun(desk: Desk, id: string, key: string): NumberedLane | undefined {
  return desk.lanes.find((lane) => lane.id === id && lane.key === key)
}

/** Ends a lane that its file has timed, from the beginning as it is known now. */
export function endWatched(desk: Desk, number: number, startedAt: number, at: number): Desk {
  const lane = laneOf(desk, number)
  if (!lane || lane.phase === "stopped") return desk
  const later = lane.phase === "running" ? (startedAt - lane.startedAt) / 1000 : 0
  const done = lanes.stopped(lanes.started(lane, startedAt), at)
  const whole = lanes.elapsed(done, at)
  const marks = lane.marks
    .map((each) => ({ ...each, elapsed_s: Math.round(10 * (each.elapsed_s - later)) / 10 }))
    .filter(({ elapsed_s }) => elapsed_s >= 0 && elapsed_s <= whole)
  return put(desk, { ...lane, ...done, marks })
}

/** The lane whose press can be taken back: the one pressed last. */
export function undoable(desk: Desk, at: number): NumberedLane | undefined {
  return desk.lanes
    .filter((lane) => lanes.canUndo(lane, at))
    .sort((a, b) => b.pressedAt - a.pressedAt)[0]
}

export function undo(desk: Desk, at: number): Desk {
  const lane = undoable(desk, at)
  return lane ? put(desk, { ...lane, ...lanes.undone(lane) }) : desk
}

/** Arms a lane again: with the next task of its queue, or the same where the run is to be repeated. */
export function rearm(desk: Desk, number: number, key: string, repeat = false): Desk {
  const lane = laneOf(desk, number)
  if (!lane) return desk
  const [next, ...rest] = lane.queue
  const moves = !repeat && next !== undefined
  const task = moves ? next : lane.taskId
  const queue = moves ? rest : lane.queue
  return put(desk, { ...lane, ...lanes.renewed(lane, task, key), queue, marks: [] })
}

/** Says why a mark cannot be; null where it can. */
export function whyNoMark(lane: NumberedLane | undefined, said: Said | null): string | null {
  if (lane?.phase !== "running") return "Marks belong to a running lane."
  if (said === null) return "Type 0 to 100, a reading with its unit, or what happened."
  const last = newest(lane.marks, "fraction")
  return last !== null && typeof said.fraction === "number" && said.fraction < last
    ? `It was at ${Math.round(100 * last)} % before: less cannot be done now.`
    : null
}

export function mark(desk: Desk, number: number, said: Said, at: number): Desk {
  const lane = laneOf(desk, number)
  if (!lane || whyNoMark(lane, said) !== null) return desk
  let elapsed_s = Math.round(10 * lanes.elapsed(lane, at)) / 10
  // One that was taken back keeps its moment; the right one stands beside it.
  while (lane.marks.some((each) => each.withdrawn && each.elapsed_s === elapsed_s)) {
    elapsed_s = Math.round(10 * (elapsed_s + 0.1)) / 10
  }
  const same = lane.marks.find((each) => each.elapsed_s === elapsed_s && !each.withdrawn)
  const others = lane.marks.filter((each) => each !== same)
  return put(desk, { ...lane, marks: [...others, { ...same, ...said, elapsed_s }] })
}

/** The mark of a running lane that can be taken back: the newest that stands and was typed. */
export function lastMark(lane: NumberedLane): lanes.MarkAt | undefined {
  if (lane.phase !== "running") return undefined
  return standing(lane.marks)
    .filter((each) => lane.timedBy === "hand" || typeof each.file_gb !== "number")
    .at(-1)
}

/** Takes the newest mark of a running lane back; it stays, and counts nowhere. */
export function takeBack(desk: Desk, number: number): Desk {
  const lane = laneOf(desk, number)
  const last = lane && lastMark(lane)
  if (!last) return desk
  const marks = lane.marks.map((each) =>
    each === last ? { ...each, withdrawn: true as const } : each,
  )
  return put(desk, { ...lane, marks })
}

/** Corrects a late or early press of a stopped lane. */
export function correct(desk: Desk, number: number, press: "start" | "stop", lateS: number): Desk {
  const lane = laneOf(desk, number)
  if (lane?.phase !== "stopped") return desk
  return put(desk, { ...lane, ...lanes.corrected(lane, press, lateS) })
}

/** Notes what was seen before a start. */
export function check(desk: Desk, number: number, conditions: lanes.Conditions): Desk {
  const lane = laneOf(desk, number)
  return lane ? put(desk, { ...lane, conditions: { ...lane.conditions, ...conditions } }) : desk
}

/** Puts a lane as another device left it; two lanes never share a digit. */
export function withRemote(desk: Desk, lane: NumberedLane): Desk {
  const others = desk.lanes.filter((each) => each.id !== lane.id)
  const known = desk.lanes.find((each) => each.id === lane.id)
  const taken = others.map((each) => each.number)
  const wished = known?.number ?? lane.number
  const free = Array.from({ length: 40 }, (_, n) => n + 1).find((n) => !taken.includes(n)) ?? 40
  const number = wished > 0 && !taken.includes(wished) ? wished : free
  const sorted = [...others, { ...lane, number }].sort((a, b) => a.number - b.number)
  return { lanes: sorted, selected: desk.selected || number }
}

const KEPT = (slug: string) => `tm-desk-${slug}`
const LONE = (slug: string) => `tm-lane-${slug}`

export function keep(slug: string, desk: Desk): void {
  localStorage.removeItem(LONE(slug))
  if (desk.lanes.length > 0) localStorage.setItem(KEPT(slug), JSON.stringify(desk))
  else localStorage.removeItem(KEPT(slug))
}

/** The desk as it was when the page went away; running clocks run on. */
export function recall(slug: string): Desk {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT(slug)) ?? "null")
    return isDesk(kept)
      ? { ...kept, lanes: kept.lanes.map((lane) => lanes.completed(lane)) }
      : loneLane(slug)
  } catch {
    return EMPTY
  }
}

/** The one lane that an older page kept: its clock may still be running. */
function loneLane(slug: string): Desk {
  const lane: unknown = JSON.parse(localStorage.getItem(LONE(slug)) ?? "null")
  if (!lanes.isLane(lane)) return EMPTY
  return { lanes: [{ ...lanes.completed(lane), number: 1, queue: [], marks: [] }], selected: 1 }
}

function isDesk(value: unknown): value is Desk {
  if (typeof value !== "object" || value === null) return false
  const { lanes: all, selected } = value as Record<string, unknown>
  return Array.isArray(all) && Number.isInteger(selected) && all.every(isNumbered)
}

function isNumbered(value: unknown): boolean {
  if (!lanes.isLane(value)) return false
  const { number, queue, marks } = value as unknown as Record<string, unknown>
  return Number.isInteger(number) && Array.isArray(queue) && Array.isArray(marks)
}

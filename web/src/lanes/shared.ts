/** A lane between devices: how it is told, and which state stands when two tell different ones. */
import type { Schemas } from "../api/client"
import type { NumberedLane } from "./desk"
import type * as lanes from "./lane"

/** What a device knows of itself and of the server's clock. */
export type Here = {
  /** This device, whatever page is open on it. */
  device: string
  /** Add to this device's clock to get the server's, in ms. */
  offset: number
  /** Half the shortest round trip, in ms. */
  half: number
}

export type RemoteLane = Schemas["SharedLane"]
type Told = Omit<Schemas["LaneFields"], "marks"> & { marks?: lanes.MarkAt[] }

/** Two clocks that differ by less than this are the same press of the same device. */
const SAME_PRESS_MS = 1000

/** Writes a lane as the server keeps it; moments go onto the server's clock. */
export function told(lane: NumberedLane, here: Here, gone = false): Told {
  const place = (at: number) => (at === 0 ? 0 : Math.max(0, at + here.offset))
  return {
    id: lane.id,
    number: lane.number,
    setup_id: lane.setupId,
    task_id: lane.taskId,
    queue: lane.queue,
    phase: gone ? "gone" : lane.phase,
    key: lane.key,
    undone: lane.undone,
    started_ms: place(lane.startedAt),
    started_by: lane.startedAt === 0 ? "" : lane.startedBy || here.device,
    start_u_s: lane.startU,
    elapsed_s: lane.elapsedS,
    placed_u_s: lane.placedU,
    pressed_ms: place(lane.pressedAt),
    timed_by: lane.timedBy,
    factor: lane.factor,
    conditions: lane.conditions,
    marks: lane.marks,
  }
}

/** Id of the lane that another device tells of. */
export function idOf(remote: RemoteLane): string {
  return (remote.lane as unknown as Told).id
}

/** Reads a lane as another device left it; moments come onto this device's clock. */
export function heard(remote: RemoteLane, here: Here): NumberedLane | null {
  const lane = remote.lane as unknown as Told
  if (lane.phase === "gone") return null
  const place = (at: number | undefined) => (at ? at - here.offset : 0)
  const startedAt = place(lane.started_ms)
  const elapsedS = lane.elapsed_s ?? null
  return {
    id: lane.id,
    number: lane.number ?? 0,
    setupId: lane.setup_id,
    taskId: lane.task_id,
    queue: lane.queue ?? [],
    phase: lane.phase,
    key: lane.key,
    redo: null,
    undone: lane.undone ?? 0,
    startedAt,
    stoppedAt:
      lane.phase === "stopped" ? startedAt + (1000 * (elapsedS ?? 0)) / (lane.factor ?? 1) : 0,
    pressedAt: place(lane.pressed_ms),
    startedBy: lane.started_by === here.device ? "" : (lane.started_by ?? ""),
    startU: lane.start_u_s ?? 0,
    elapsedS,
    placedU: lane.placed_u_s ?? 0,
    timedBy: lane.timed_by ?? "hand",
    factor: lane.factor ?? 1,
    conditions: lane.conditions ?? {},
    marks: lane.marks ?? [],
    stamp: { own: false, at: remote.at_ms, client: remote.client, seq: remote.seq },
  }
}

/** Moment of a stamp on the server's clock. */
function moment(stamp: lanes.Stamp, here: Here): number {
  return stamp.own ? stamp.at + here.offset : stamp.at
}

/** Whether one stamp is older than another: by moment, then by who told it. */
export function isOlder(one: lanes.Stamp | null, other: lanes.Stamp, here: Here): boolean {
  if (one === null) return true
  if (one.client === other.client) return one.seq < other.seq
  const apart = moment(one, here) - moment(other, here)
  return apart !== 0 ? apart < 0 : one.client < other.client
}

/**
 * Joins a lane with what another device says of it. The newer stands, with the marks of both
 * where both are of one run; of two stops of one run the earlier stands.
 */
export function joined(own: NumberedLane, other: NumberedLane, here: Here): NumberedLane {
  if (other.stamp === null) return own
  const newer = isOlder(own.stamp, other.stamp, here) ? other : own
  const older = newer === own ? other : own
  if (own.key !== other.key) return newer
  const marks = new Map<number, lanes.MarkAt>()
  for (const mark of [...older.marks, ...newer.marks]) {
    marks.set(mark.elapsed_s, { ...marks.get(mark.elapsed_s), ...mark })
  }
  const both = {
    ...newer,
    marks: [...marks.values()].sort((a, b) => a.elapsed_s - b.elapsed_s),
    // Only the device that took a press back can put it back.
    redo: own.phase === newer.phase && own.undone === newer.undone ? own.redo : null,
  }
  // The press itself is known more exactly here than after a way over the server's clock.
  if (both.startedBy === "" && Math.abs(both.startedAt - own.startedAt) < SAME_PRESS_MS) {
    both.startedAt = own.startedAt
  }
  const stopped = own.phase === "stopped" && other.phase === "stopped"
  if (stopped && own.undone === other.undone && own.elapsedS !== null && other.elapsedS !== null) {
    const first = own.elapsedS <= other.elapsedS ? own : other
    both.elapsedS = first.elapsedS
    both.placedU = first.placedU
    both.pressedAt = first.pressedAt
    both.stoppedAt = first.stoppedAt
  }
  return both
}

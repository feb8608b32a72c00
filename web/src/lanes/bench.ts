/**
 * The bench of a shootout, outside of any screen: presses change it at once, on every stage;
 * the book follows when the server answers.
 */
import { useEffect, useSyncExternalStore } from "react"
import { clientKey } from "../api/changes"
import type { Schemas } from "../api/client"
import { refresh } from "../api/queries"
import { keptClock } from "../theme/format"
import * as desks from "./desk"
import * as lanes from "./lane"
import { standing } from "./marks"
import { flush, settle, waiting, want } from "./outbox"
import { heard, idOf, isOlder, joined, type RemoteLane } from "./shared"
import { play } from "./sound"
import { type Kind, Sync } from "./sync"
import { POLL_MS } from "./watch/follow"
import type { Ended } from "./watch/record"
import { type Chosen, type Watch, Watches } from "./watch/watches"

const RETRY_MS = 3000
/** The first screen comes first; then the lanes of other devices. */
const BEGIN_MS = 400
const SIGNAL_MS = 20_000
/** So long is counted down. */
const COUNT_MS = 3000
/** A press this soon after the last on the same lane is the same press, felt twice. */
const BOUNCE_MS = 400

export type BenchState = {
  desk: desks.Desk
  /** What the run that landed last means. */
  result: Schemas["StoredRun"] | null
  error: unknown
  /** Runs that wait on this device. */
  pending: number
  /** What happened while nobody looked; empty soon after. */
  signal: string
  /** A press that was taken for a bounce, in words; empty after the next one that counts. */
  bounced: string
  /** The moment at which a countdown ends; null where none runs. */
  startsAt: number | null
  /** Exports that this page watches, by the lane. */
  watches: ReadonlyMap<string, Watch>
}
type How = {
  status: "ok" | "void" | "failed"
  reason: string | null
  why: string
  /** How far a failed run came, 0 to 1. */
  reached?: number | null
  method?: "stopwatch" | "watch" | "one press"
  /** Of a watch: the time between two looks that leaves its length as unsure. */
  pollS?: number | null
}

const AT_ONCE = "it was there at once, which is shorter than can be timed"

/** A moment of the wall's clock, on the clock that lanes go by; and back. */
const placed = (wallMs: number) => lanes.now() - (Date.now() - wallMs)
const onWall = (at: number) => Date.now() - (lanes.now() - at)

export class Bench {
  private state: BenchState
  private readonly listeners = new Set<() => void>()
  private readonly sync: Sync
  private counting: ReturnType<typeof setInterval> | null = null
  /** Timers whose stop was pressed here, with more to time. */
  private readonly goingOn = new Set<string>()
  private readonly held = new Map<string, number>()
  readonly watches: Watches

  constructor(private readonly slug: string) {
    this.sync = new Sync(slug)
    this.state = {
      desk: desks.recall(slug),
      result: null,
      error: null,
      pending: waiting().length,
      signal: "",
      bounced: "",
      startsAt: null,
      watches: new Map(),
    }
    this.watches = new Watches(slug, {
      started: this.watchStarted,
      grown: this.watchGrown,
      ended: this.watchEnded,
      changed: () => this.set({ watches: this.watches.read() }),
    })
    // Another tab of this device works on the same lanes.
    window.addEventListener("storage", () => this.set({ desk: desks.recall(slug) }))
    setInterval(() => {
      this.goOn()
      if (waiting().length > 0) void this.deliver()
      if (this.sync.waiting().length > 0) void this.share()
      else void this.sync.keepPlaced()
    }, RETRY_MS)
    setTimeout(() => void this.meet(), BEGIN_MS)
    void this.watches.resume(this.state.desk.lanes.map((lane) => lane.id))
    void this.deliver()
  }

  /** Tells lanes that no other device knows yet, and hears of theirs. */
  private async meet(): Promise<void> {
    for (const lane of this.state.desk.lanes) {
      if (lane.stamp === null) this.tell("changed", lane, lane.pressedAt || lanes.now())
    }
    await this.catchUp()
  }

  /** Hears of all lanes: of those that others told meanwhile, too. */
  async catchUp(): Promise<void> {
    await this.share()
    const remote = await this.sync.ask().catch(() => null)
    if (remote !== null) this.receive(remote.lanes)
  }

  /** Sends what other devices do not know yet, and takes how its lanes stand then. */
  readonly share = async (): Promise<void> => {
    const remote = await this.sync.flush()
    if (remote === null) return
    this.receive(remote)
    // Pressed while the answer was on its way.
    if (this.sync.waiting().length > 0) await this.share()
  }

  /** Takes lanes as other devices left them. */
  readonly receive = (remote: RemoteLane[]): void => {
    let { desk } = this.state
    for (const each of remote) {
      const own = desk.lanes.find((lane) => lane.id === idOf(each))
      const other = heard(each, this.sync.here)
      if (other === null) {
        const stamp = { own: false, at: each.at_ms, client: each.client, seq: each.seq }
        if (own && isOlder(own.stamp, stamp, this.sync.here)) desk = desks.without(desk, own.number)
        continue
      }
      const lane = own ? joined(own, other, this.sync.here) : other
      if (own && JSON.stringify(own) === JSON.stringify(lane)) continue
      if (own?.phase === "running" && lane.phase === "stopped") {
        this.signal("ended", `lane ${own.number} has ended`)
      }
      if (lane.phase === "stopped") settle(lane)
      desk = desks.withRemote(desk, lane)
    }
    if (desk === this.state.desk) return
    desks.keep(this.slug, desk)
    this.set({ desk })
    this.keepWatches()
  }

  /** What is watched follows its lane: away with it, and on with its next run. */
  private keepWatches(): void {
    const { lanes: all } = this.state.desk
    this.watches.keepOnly(all.map((lane) => lane.id))
    for (const lane of all) {
      if (lane.phase === "armed") this.watches.next(lane.id, lane.key)
    }
  }

  /** Sounds, and says so in the title, for a while. */
  signal(what: "ended" | "past", words: string): void {
    play(what)
    this.set({ signal: words })
    setTimeout(() => {
      if (this.state.signal === words) this.set({ signal: "" })
    }, SIGNAL_MS)
  }

  private tell(kind: Kind, lane: desks.NumberedLane, at: number): void {
    const stamped = this.sync.note(kind, lane, at)
    const { desk } = this.state
    const all = desk.lanes.map((each) => (each.number === lane.number ? stamped : each))
    const next = { ...desk, lanes: all }
    desks.keep(this.slug, next)
    this.set({ desk: next })
  }

  readonly read = (): BenchState => this.state

  readonly subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => this.listeners.delete(listener)
  }

  private set(change: Partial<BenchState>): void {
    this.state = { ...this.state, ...change }
    for (const listener of this.listeners) listener()
  }

  /** Takes a new desk; what changed on it is told to other devices as what happened. */
  private change(desk: desks.Desk, kind: Kind | null, at = lanes.now()): void {
    const before = this.state.desk
    if (desk === before) return
    desks.keep(this.slug, desk)
    this.set({ desk })
    if (kind === null) return
    this.keepWatches()
    for (const lane of desk.lanes) {
      if (!before.lanes.includes(lane)) this.tell(kind, lane, at)
    }
    for (const lane of before.lanes) {
      if (!desk.lanes.some((each) => each.id === lane.id)) this.sync.note("removed", lane, at)
    }
    void this.share()
  }

  private async deliver(): Promise<void> {
    const sent = await flush()
    this.set({
      pending: waiting().length,
      error: sent.error,
      ...(sent.stored ? { result: sent.stored } : {}),
    })
    if (sent.stored) void refresh(this.slug)
  }

  private record(lane: desks.NumberedLane, at: number, how: How): void {
    const ended = lane.phase === "stopped" ? lane : lanes.stopped(lane, at, this.halfS)
    const seconds = lanes.elapsed(ended, at)
    const watched = this.watches.has(lane.id)
    const body: Schemas["NewRun"] = {
      setup_id: lane.setupId,
      task_id: lane.taskId,
      typed: seconds >= lanes.TOLD_S ? keptClock(seconds, lanes.TOLD_S) : null,
      method: how.method ?? (watched ? "watch" : "stopwatch"),
      poll_s: how.pollS ?? (watched ? POLL_MS / 1000 : null),
      status: how.status,
      reason: how.reason,
      reached: how.reached ?? null,
      placed_u: ended.placedU,
      conditions: lane.conditions,
      started_at: new Date(lane.startedAt).toISOString(),
      client_key: lane.key,
    }
    want({ slug: this.slug, body, why: how.why, marks: standing(lane.marks) })
    this.set({ pending: waiting().length })
    // Other devices first: the book works out every figure anew, which takes longer.
    void this.share().then(() => this.deliver())
  }

  /** A run that was read elsewhere than on a lane; kept on this device until the book has it. */
  keepRun(body: Schemas["NewRun"], marks: lanes.MarkAt[]): void {
    want({ slug: this.slug, body, why: "read off its film once more", marks })
    this.set({ pending: waiting().length, result: null })
    void this.deliver()
  }

  private get halfS(): number {
    return this.sync.here.half / 1000
  }

  add(setupId: string, tasks: string[]): void {
    this.change(desks.withLane(this.state.desk, setupId, tasks, clientKey()), "armed")
  }

  /** Adds a lane that a folder times: it starts with the first byte of an export. */
  async addWatched(setupId: string, tasks: string[], chosen: Chosen): Promise<void> {
    const key = clientKey()
    const desk = desks.withLane(this.state.desk, setupId, tasks, key, "watcher")
    // The lane first: a watch without one is left.
    this.change(desk, "armed")
    const lane = desks.byRun(this.state.desk, key, key)
    if (!lane) return
    try {
      await this.watches.begin(key, key, chosen)
    } catch (error) {
      this.remove(lane.number)
      throw error
    }
    if (!desks.byRun(this.state.desk, key, key)) this.keepWatches()
  }

  private readonly watchStarted = (id: string, key: string, atMs: number): void => {
    const lane = desks.byRun(this.state.desk, id, key)
    if (lane?.phase !== "armed") return
    const at = placed(atMs)
    this.set({ result: null })
    this.change(desks.start(this.state.desk, lane.number, at), "started", at)
  }

  private readonly watchGrown = (id: string, key: string, atMs: number, bytes: number): void => {
    const lane = desks.byRun(this.state.desk, id, key)
    if (!lane) return
    const said = { file_gb: Math.round(bytes / 1e6) / 1000 }
    this.mark(lane.number, said, placed(atMs))
  }

  /** An end that a folder showed: into the book first, then on to the next. */
  private readonly watchEnded = (id: string, key: string, ended: Ended, again: boolean): void => {
    const lane = desks.byRun(this.state.desk, id, key)
    if (!lane || lane.phase === "stopped") return
    const startedAt = placed(ended.startedMs ?? ended.endedMs)
    const at = placed(ended.endedMs)
    const desk = desks.endWatched(this.state.desk, lane.number, startedAt, at)
    const done = desks.laneOf(desk, lane.number) ?? lane
    const failed = ended.kind === "failed"
    const doubt = ended.doubt ?? (at - startedAt < 1000 * lanes.TOLD_S ? AT_ONCE : null)
    const reason = failed ? ended.reason : doubt && `not sure: ${doubt}`
    this.record(done, at, {
      status: failed ? "failed" : doubt ? "void" : "ok",
      reason: reason || null,
      why: reason || "its file was finished",
      method: ended.pressed ? "one press" : "watch",
      pollS: ended.spreadS,
    })
    this.change(desk, failed ? "failed" : "stopped", at)
    this.signal("ended", `timer ${lane.number} has ended`)
    if (again) this.rearm(lane.number)
  }

  /** A person says that nobody writes the file any more: its last change was the end. */
  watchedIsWhole(number: number): void {
    const lane = desks.laneOf(this.state.desk, number)
    if (lane) this.watches.order(lane.id, { order: "whole" })
  }

  remove(number: number): void {
    if (desks.laneOf(this.state.desk, number)?.phase === "running") return
    this.change(desks.without(this.state.desk, number), "removed")
  }

  select(number: number): void {
    this.change({ ...this.state.desk, selected: number }, null)
  }

  /** Notes what was seen before a start. */
  check(number: number, conditions: lanes.Conditions): void {
    this.change(desks.check(this.state.desk, number, conditions), "changed")
  }

  /** Corrects a late or early press; the run keeps the value that it had, too. */
  correct(number: number, press: "start" | "stop", lateS: number, why: string): void {
    const desk = desks.correct(this.state.desk, number, press, lateS)
    const lane = desks.laneOf(desk, number)
    if (desk === this.state.desk || !lane) return
    this.change(desk, "corrected")
    this.record(lane, lane.stoppedAt, { status: "ok", reason: null, why })
  }

  /** Starts a lane; a stopped one is made ready first. */
  start(number: number, at = lanes.now()): void {
    let { desk } = this.state
    if (desks.laneOf(desk, number)?.phase === "stopped") {
      desk = desks.rearm(desk, number, clientKey())
    }
    const lane = desks.laneOf(desk, number)
    if (lane?.timedBy === "watcher") {
      // One that runs elsewhere starts by itself; one that runs here may be told of the press.
      if (!this.watches.has(lane.id)) return
      this.watches.order(lane.id, { order: "press", atMs: onWall(at) })
    }
    this.set({ result: null })
    this.change(desks.start(desk, number, at, this.halfS), "started", at)
  }

  /** Starts the next armed lane; where none is armed, makes the stopped ones ready. */
  startNext(at = lanes.now()): void {
    const number = desks.nextArmed(this.state.desk)
    if (number !== null) {
      this.start(number, at)
      return
    }
    for (const lane of this.state.desk.lanes) {
      if (lane.phase === "stopped") this.rearm(lane.number)
    }
  }

  /**
   * Counts down, and starts all timers that wait for a press at its end: a moment that is known
   * beforehand, so that two hands can start two exports in it. Once more, it is called off.
   */
  countDown(at = lanes.now()): void {
    if (this.counting !== null) {
      clearInterval(this.counting)
      this.counting = null
      this.set({ startsAt: null })
      return
    }
    if (desks.nextArmed(this.state.desk) === null) return
    const startsAt = at + COUNT_MS
    this.set({ startsAt })
    play("count")
    this.counting = setInterval(() => {
      if (lanes.now() < startsAt - 20) {
        play("count")
        return
      }
      clearInterval(this.counting ?? undefined)
      this.counting = null
      this.set({ startsAt: null })
      play("go")
      this.startAll(startsAt)
    }, 1000)
  }

  startAll(at = lanes.now()): void {
    this.set({ result: null })
    this.change(desks.startAll(this.state.desk, at, this.halfS), "started", at)
  }

  /** Whether a press is the same one felt twice; then it is told, and does nothing. */
  private bounces(number: number, at: number): boolean {
    const before = desks.laneOf(this.state.desk, number)?.pressedAt ?? 0
    const bounced = before > 0 && at >= before && at - before < BOUNCE_MS
    this.set({
      bounced: bounced
        ? `A second press on timer ${number} within ${BOUNCE_MS / 1000} s was taken for a bounce.`
        : "",
    })
    return bounced
  }

  /** The digit of a lane: it starts one that is ready and stops one that runs. */
  toggle(number: number, at = lanes.now()): void {
    const phase = desks.laneOf(this.state.desk, number)?.phase
    if (phase === "armed") this.start(number, at)
    else if (phase === "running") this.stop(number, at)
    else if (phase === "stopped") this.bounces(number, at)
  }

  stop(number: number, at = lanes.now()): void {
    const lane = desks.laneOf(this.state.desk, number)
    // What times itself ends by itself.
    if (lane?.phase !== "running" || lane.timedBy !== "hand" || this.bounces(number, at)) return
    this.change(desks.stop(this.state.desk, number, at, this.halfS), "stopped", at)
    this.record(lane, at, {
      status: "ok",
      reason: null,
      why: "stopped again after an undone press",
    })
    this.goingOn.add(lane.id)
  }

  /** While something is asked about a timer it stays as it is; what lets go of it. */
  hold(number: number, asked: string): () => void {
    const why = `${asked} ${number}`
    this.held.set(why, number)
    return () => this.held.delete(why)
  }

  /** Readies what comes next by itself, once the stop before can be undone no more. */
  private goOn(): void {
    const at = lanes.now()
    for (const lane of this.state.desk.lanes) {
      const over = lane.phase === "stopped" && !lanes.canUndo(lane, at)
      const asked = [...this.held.values()].includes(lane.number)
      if (!this.goingOn.has(lane.id) || !over || asked) continue
      this.goingOn.delete(lane.id)
      if (lane.queue.length > 0) this.rearm(lane.number)
    }
  }

  undo(): void {
    const lane = desks.undoable(this.state.desk, lanes.now())
    if (!lane) return
    if (lane.phase === "stopped") {
      const reason = "stop pressed too early and undone"
      this.record(lane, lane.stoppedAt, { status: "void", reason, why: reason })
    }
    this.set({ result: null })
    this.change(desks.undo(this.state.desk, lanes.now()), "undone")
  }

  /** Puts the press that was taken back last where it was. */
  redo(): void {
    const lane = desks.redoable(this.state.desk, lanes.now())
    if (!lane?.redo) return
    const { press, at } = lane.redo
    if (press === "stop") this.stop(lane.number, at)
    else this.start(lane.number, at)
  }

  /** Selects the lane above or below. */
  step(by: 1 | -1): void {
    this.change(desks.stepped(this.state.desk, by), null)
  }

  /** Takes away every lane that has ended. */
  clear(): void {
    this.change(desks.cleared(this.state.desk), "removed")
  }

  /** Ends a run as void or failed, as of the moment of the press, and arms the lane again. */
  end(
    number: number,
    status: "void" | "failed",
    reason: string,
    at: number,
    reached: number | null = null,
  ): void {
    const lane = desks.laneOf(this.state.desk, number)
    if (!lane || lane.phase === "armed") return
    const end = lane.phase === "stopped" ? lane.stoppedAt : at
    this.record(lane, end, { status, reason, why: reason, reached })
    this.change(desks.rearm(this.state.desk, number, clientKey(), status === "void"), status, at)
  }

  rearm(number: number): void {
    if (desks.laneOf(this.state.desk, number)?.phase !== "stopped") return
    this.change(desks.rearm(this.state.desk, number, clientKey()), "armed")
  }

  /** Takes the newest mark of a running lane back. */
  takeBack(number: number): void {
    this.change(desks.takeBack(this.state.desk, number), "mark")
  }

  mark(number: number, said: desks.Said, at: number): void {
    this.change(desks.mark(this.state.desk, number, said, at), "mark", at)
  }
}

const benches = new Map<string, Bench>()

/** The one bench of a shootout on this device. */
export function benchOf(slug: string): Bench {
  const known = benches.get(slug) ?? new Bench(slug)
  benches.set(slug, known)
  return known
}

export function useBench(slug: string): { bench: Bench; state: BenchState } {
  const bench = benchOf(slug)
  return { bench, state: useSyncExternalStore(bench.subscribe, bench.read) }
}

/** Counts the clocks that run, and keeps the screen awake meanwhile. */
export function useRunning(slug: string): number {
  const { state } = useBench(slug)
  const running = state.desk.lanes.filter((lane) => lane.phase === "running").length
  const awake = running > 0 || state.watches.size > 0
  useEffect(() => {
    if (!awake) return
    const lock = navigator.wakeLock?.request("screen").catch(() => null)
    return () => void lock?.then((held) => held?.release())
  }, [awake])
  return running
}

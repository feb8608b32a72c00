/**
 * The bench of a shootout, outside of any screen: presses change it at once, on every stage;
 * the book follows when the server answers.
 */
import { useEffect, useSyncExternalStore } from "react"
import { clientKey } from "../api/changes"
import type { Schemas } from "../api/client"
import { refresh } from "../api/queries"
import { clock } from "../theme/format"
import * as desks from "./desk"
import * as lanes from "./lane"
import { flush, waiting, want } from "./outbox"

const RETRY_MS = 3000

export type BenchState = {
  desk: desks.Desk
  /** What the run that landed last means. */
  result: Schemas["StoredRun"] | null
  error: unknown
  /** Runs that wait on this device. */
  pending: number
}
type How = { status: "ok" | "void" | "failed"; reason: string | null; why: string }

export class Bench {
  private state: BenchState
  private readonly listeners = new Set<() => void>()

  constructor(private readonly slug: string) {
    this.state = {
      desk: desks.recall(slug),
      result: null,
      error: null,
      pending: waiting().length,
    }
    // Another tab of this device works on the same lanes.
    window.addEventListener("storage", () => this.set({ desk: desks.recall(slug) }))
    setInterval(() => {
      if (waiting().length > 0) void this.deliver()
    }, RETRY_MS)
    void this.deliver()
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

  private change(desk: desks.Desk): void {
    if (desk === this.state.desk) return
    desks.keep(this.slug, desk)
    this.set({ desk })
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
    const seconds = lanes.elapsed({ ...lane, phase: "stopped", stoppedAt: at }, at)
    const body: Schemas["NewRun"] = {
      setup_id: lane.setupId,
      task_id: lane.taskId,
      typed: seconds >= lanes.RESOLUTION_S ? clock(seconds, lanes.RESOLUTION_S) : null,
      method: "stopwatch",
      status: how.status,
      reason: how.reason,
      started_at: new Date(lane.startedAt).toISOString(),
      client_key: lane.key,
    }
    want({ slug: this.slug, body, why: how.why, marks: lane.marks })
    this.set({ pending: waiting().length })
    void this.deliver()
  }

  add(setupId: string, tasks: string[]): void {
    this.change(desks.withLane(this.state.desk, setupId, tasks, clientKey()))
  }

  remove(number: number): void {
    if (desks.laneOf(this.state.desk, number)?.phase === "running") return
    this.change(desks.without(this.state.desk, number))
  }

  select(number: number): void {
    this.change({ ...this.state.desk, selected: number })
  }

  /** Starts a lane; a stopped one is made ready first. */
  start(number: number): void {
    const at = lanes.now()
    let { desk } = this.state
    if (desks.laneOf(desk, number)?.phase === "stopped") {
      desk = desks.rearm(desk, number, clientKey())
    }
    this.set({ result: null })
    this.change(desks.start(desk, number, at))
  }

  /** Starts the next armed lane; where none is armed, makes the stopped ones ready. */
  startNext(): void {
    const number = desks.nextArmed(this.state.desk)
    if (number !== null) {
      this.start(number)
      return
    }
    for (const lane of this.state.desk.lanes) {
      if (lane.phase === "stopped") this.rearm(lane.number)
    }
  }

  startAll(): void {
    this.set({ result: null })
    this.change(desks.startAll(this.state.desk, lanes.now()))
  }

  stop(number: number): void {
    const lane = desks.laneOf(this.state.desk, number)
    if (lane?.phase !== "running") return
    const at = lanes.now()
    this.change(desks.stop(this.state.desk, number, at))
    this.record(lane, at, {
      status: "ok",
      reason: null,
      why: "stopped again after an undone press",
    })
  }

  undo(): void {
    const lane = desks.undoable(this.state.desk, lanes.now())
    if (!lane) return
    if (lane.phase === "stopped") {
      const reason = "stop pressed too early and undone"
      this.record(lane, lane.stoppedAt, { status: "void", reason, why: reason })
    }
    this.set({ result: null })
    this.change(desks.undo(this.state.desk, lanes.now()))
  }

  /** Ends a run as void or failed, as of the moment of the press, and arms the lane again. */
  end(number: number, status: "void" | "failed", reason: string, at: number): void {
    const lane = desks.laneOf(this.state.desk, number)
    if (!lane || lane.phase === "armed") return
    const end = lane.phase === "stopped" ? lane.stoppedAt : at
    this.record(lane, end, { status, reason, why: reason })
    this.change(desks.rearm(this.state.desk, number, clientKey(), status === "void"))
  }

  rearm(number: number): void {
    if (desks.laneOf(this.state.desk, number)?.phase !== "stopped") return
    this.change(desks.rearm(this.state.desk, number, clientKey()))
  }

  mark(number: number, fraction: number, at: number): void {
    this.change(desks.mark(this.state.desk, number, fraction, at))
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
  useEffect(() => {
    if (running === 0) return
    const lock = navigator.wakeLock?.request("screen").catch(() => null)
    return () => void lock?.then((held) => held?.release())
  }, [running])
  return running
}

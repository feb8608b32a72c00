/**
 * Follows one export in a folder, look by look. What a look shows is kept on this device before
 * anything is told, so that whoever goes on after a reload knows what was seen.
 */
import { lookAt, sameLook } from "./looks"
import type { Ended, WatchRecord } from "./record"
import { BLIND_S, type FileSeen, FileWatch, type WatchEvent } from "./rules"
import { isCutOff } from "./whole"

export const POLL_MS = 250
/** So often the state is kept while nothing changes, and while a file grows. */
const HEARTBEAT_MS = 5000
const GROWING_MS = 1000
/** So often a size is told as a mark. */
const MARK_MS = 5000
/** So often the screen is told what was seen. */
const SHOW_MS = 500
/** A folder that cannot be read is tried again so soon. */
const AGAIN_MS = 2000
/** Over so long a rate is told. */
const RATE_MS = 5000
/** A clock that is off by more than this against one that cannot be set was set. */
const SET_S = 0.5
/** A longer leap is a machine that slept, which the rules see by themselves. */
const SLEPT_S = 10

/** What the screen is told of a watch. */
export type Shown = {
  size: number
  /** Bytes a second, lately. */
  rate: number
  quietS: number
  neededS: number
}

/** What a watch tells; moments in milliseconds since 1970. */
export type Said =
  | { said: "shown"; shown: Shown }
  | { said: "armed" }
  | { said: "started"; key: string; atMs: number }
  | { said: "mark"; key: string; atMs: number; bytes: number }
  | { said: "ended"; key: string; ended: Ended }
  | { said: "trouble"; trouble: "permission" | "folder" | "room" }

/** What a watch is told. */
export type Order =
  | { order: "press"; atMs: number }
  | { order: "whole" }
  | { order: "next"; key: string }
  | { order: "leave" }

/** What the world gives it: the clocks, the store, and whoever listens. */
export type World = {
  wallMs: () => number
  steadyMs: () => number
  wait: (ms: number) => Promise<void>
  keep: (record: WatchRecord) => Promise<void>
  tell: (said: Said) => void
}

export class Follower {
  private rules: FileWatch
  private files: FileSeen[] = []
  private left = false
  private whole = false
  private pressedMs: number | null = null
  private keptAt = 0
  private shownAt = 0
  private markedAt = 0
  private sizes: { at: number; size: number }[] = []
  private clocks: { wall: number; steady: number } | null = null
  private wake: (() => void) | null = null

  constructor(
    private readonly record: WatchRecord,
    private readonly world: World,
  ) {
    this.rules = this.rulesOf()
    this.files = [...(record.state?.known.last.values() ?? [])]
  }

  private rulesOf(): FileWatch {
    const { endings, state } = this.record
    const wanted = (name: string) =>
      endings.length === 0 || endings.some((each) => name.toLowerCase().endsWith(each))
    // Where a person says that it is done, nobody holds it any more.
    const blindS = this.whole ? 0 : BLIND_S
    return new FileWatch({ wanted, pollS: POLL_MS / 1000, blindS }, state)
  }

  /** Takes an order from the bench. */
  order(order: Order): void {
    if (order.order === "leave") this.left = true
    else if (order.order === "press") this.pressedMs = order.atMs
    else if (order.order === "whole") {
      this.whole = true
      this.record.state = this.rules.state
      this.rules = this.rulesOf()
    } else if (order.key !== this.record.key) {
      // Another page may have gone on to this run already.
      const { record } = this
      record.key = order.key
      record.state = null
      record.ended = null
      record.clockSetS = 0
      this.whole = false
      this.pressedMs = null
      this.sizes = []
      this.rules = this.rulesOf()
      // What is there now was there before.
      if (this.files.length > 0) this.rules.arm(this.world.wallMs() / 1000, this.files)
      record.state = this.rules.state
      this.keptAt = 0
    }
    this.wake?.()
  }

  /** Looks until it is told to leave. */
  async run(): Promise<void> {
    const { startedS } = this.rules
    if (this.rules.state.before !== null) this.world.tell({ said: "armed" })
    // Kept, and perhaps not told before the page went away.
    if (startedS !== null) {
      this.world.tell({ said: "started", key: this.record.key, atMs: 1000 * startedS })
    }
    while (!this.left) {
      if (this.record.ended !== null) {
        this.world.tell({ said: "ended", key: this.record.key, ended: this.record.ended })
        // Nothing more is looked at until the bench has taken this end, and said what is next.
        await this.asked()
        continue
      }
      await this.step()
      await this.world.wait(POLL_MS)
    }
  }

  private asked(): Promise<void> {
    return new Promise((resolve) => {
      this.wake = () => {
        this.wake = null
        resolve()
      }
    })
  }

  /** One look, and what it shows. */
  async step(): Promise<void> {
    let files: FileSeen[]
    const beganS = this.world.wallMs() / 1000
    try {
      const before = new Map(this.files.map((file) => [file.name, file]))
      files = await lookAt(this.record.folder, before)
    } catch (error) {
      const refused = error instanceof DOMException && error.name === "NotAllowedError"
      this.world.tell({ said: "trouble", trouble: refused ? "permission" : "folder" })
      await this.world.wait(AGAIN_MS)
      return
    }
    const nowMs = this.now()
    const armed = this.rules.state.before !== null
    const changed = !sameLook(files, this.files)
    this.files = files
    const events = this.pressed(nowMs / 1000)
    events.push(...this.rules.observe(nowMs / 1000, files, beganS))
    const every = !armed || events.length > 0 ? 0 : changed ? GROWING_MS : HEARTBEAT_MS
    await this.kept(events, every, nowMs)
    if (this.left) return
    if (!armed) this.world.tell({ said: "armed" })
    const begun = events.find((event) => event.kind === "started")
    if (begun) {
      this.markedAt = 1000 * begun.at_s
      this.world.tell({ said: "started", key: this.record.key, atMs: 1000 * begun.at_s })
    }
    this.show(nowMs, changed)
  }

  /** A person's press, before the first byte. */
  private pressed(atS: number): WatchEvent[] {
    const { pressedMs } = this
    if (pressedMs === null || this.rules.startedS !== null) return []
    this.pressedMs = null
    return [this.rules.begin(Math.min(pressedMs / 1000, atS))]
  }

  /** Now by the wall's clock, which files are told by; notes where that was set. */
  private now(): number {
    const clocks = { wall: this.world.wallMs(), steady: this.world.steadyMs() }
    const last = this.clocks
    this.clocks = clocks
    if (last !== null && this.rules.startedS !== null) {
      const off = (clocks.wall - last.wall - (clocks.steady - last.steady)) / 1000
      if (Math.abs(off) > SET_S && off < SLEPT_S) this.record.clockSetS += off
    }
    return clocks.wall
  }

  private async kept(events: WatchEvent[], every: number, nowMs: number): Promise<void> {
    const end = events.find((event) => event.kind === "stopped" || event.kind === "failed")
    if (end !== undefined) this.record.ended = await this.endOf(end)
    if (nowMs - this.keptAt < every) return
    this.keptAt = nowMs
    this.record.state = this.rules.state
    try {
      await this.world.keep(this.record)
    } catch {
      // It goes on; only a reload would not know what was seen.
      this.world.tell({ said: "trouble", trouble: "room" })
    }
  }

  private async endOf(event: WatchEvent): Promise<Ended> {
    const set = this.record.clockSetS
    const cut = event.name !== undefined && (await this.isCutOff(event.name))
    const doubts = [
      ...(event.doubt ? [event.doubt] : []),
      ...(cut ? [`${event.name} has no end: it was cut off`] : []),
      ...(Math.abs(set) > SET_S ? [`this machine's clock was set by ${set.toFixed(1)} s`] : []),
    ]
    const startedS = event.started_s ?? this.rules.startedS
    return {
      kind: event.kind === "failed" ? "failed" : "stopped",
      startedMs: startedS === null ? null : 1000 * startedS,
      endedMs: 1000 * event.at_s,
      spreadS: event.spread_s ?? null,
      pressed: this.rules.state.pressed !== null,
      doubt: doubts.join("; ") || null,
      reason: event.reason ?? null,
      name: event.name ?? null,
    }
  }

  /** Whether the finished film itself says that it is not whole: its disk may be full. */
  private async isCutOff(name: string): Promise<boolean> {
    try {
      const handle = await this.record.folder.getFileHandle(name)
      return await isCutOff(await handle.getFile())
    } catch {
      return false
    }
  }

  private show(nowMs: number, changed: boolean): void {
    const { size } = this.rules
    if (this.rules.startedS === null || this.rules.done) return
    this.sizes = [...this.sizes.filter(({ at }) => nowMs - at <= RATE_MS), { at: nowMs, size }]
    if (changed && size > 0 && nowMs - this.markedAt >= MARK_MS) {
      this.markedAt = nowMs
      this.world.tell({ said: "mark", key: this.record.key, atMs: nowMs, bytes: size })
    }
    if (nowMs - this.shownAt < SHOW_MS) return
    this.shownAt = nowMs
    const [first] = this.sizes
    const over = first ? (nowMs - first.at) / 1000 : 0
    const rate = first && over > 0 ? Math.max(0, (size - first.size) / over) : 0
    const { forS, neededS } = this.rules.quiet(nowMs / 1000)
    this.world.tell({ said: "shown", shown: { size, rate, quietS: forS, neededS } })
  }
}

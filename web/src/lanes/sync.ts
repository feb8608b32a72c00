/** Tells the server what happens on the lanes, and places this device's clock on the server's. */
import { calls, problemOf, type Schemas, unwrap } from "../api/client"
import { MOST_LANES, type NumberedLane } from "./desk"
import * as lanes from "./lane"
import { type Here, told } from "./shared"

export type Kind = Schemas["LaneEvent"]["kind"]
/** An event that waits on this device; its moment is on this device's clock. */
type Waiting = { seq: number; client: string; kind: Kind; at: number; lane: NumberedLane }

const ROUNDS = 5
const BATCH = 100
/** So many marks one event may tell. */
const MOST_MARKS = 2000
const CLOCK_AGAIN_MS = 60_000
const KEPT = (slug: string) => `tm-events-${slug}`
const DEVICE = "tm-device"

/** This device, remembered; a page is a client of its own. */
function deviceId(): string {
  const known = localStorage.getItem(DEVICE)
  if (known) return known
  const made = `device-${crypto.randomUUID()}`
  localStorage.setItem(DEVICE, made)
  return made
}

export class Sync {
  readonly here: Here = { device: deviceId(), offset: 0, half: 0 }
  private readonly client = `page-${crypto.randomUUID()}`
  private seq = 0
  private readonly untold = new Untold()
  private placedAt = -1
  private sending: Promise<Schemas["SharedLane"][] | null> | null = null

  constructor(private readonly slug: string) {}

  /** Keeps an event on this device until the server has it; gives the lane with its stamp. */
  note(kind: Kind, lane: NumberedLane, at: number): NumberedLane {
    this.seq += 1
    const stamp = { own: true, at, client: this.client, seq: this.seq }
    const stamped = { ...lane, stamp }
    this.write([...this.waiting(), { seq: this.seq, client: this.client, kind, at, lane: stamped }])
    return stamped
  }

  waiting(): Waiting[] {
    try {
      const kept: unknown = JSON.parse(localStorage.getItem(KEPT(this.slug)) ?? "[]")
      return Array.isArray(kept) ? (kept as Waiting[]) : []
    } catch {
      return []
    }
  }

  private write(events: Waiting[]): void {
    if (events.length === 0) localStorage.removeItem(KEPT(this.slug))
    else localStorage.setItem(KEPT(this.slug), JSON.stringify(events))
  }

  /** Sends what waits and gives its lanes as they stand; null where the server is away. */
  flush(): Promise<Schemas["SharedLane"][] | null> {
    this.sending ??= this.send().finally(() => {
      this.sending = null
    })
    return this.sending
  }

  private async send(): Promise<Schemas["SharedLane"][] | null> {
    try {
      if (this.placedAt < 0) await this.place()
      const batch = this.waiting().slice(0, BATCH)
      if (batch.length === 0) return []
      let answer: Schemas["SharedBench"]
      try {
        answer = await this.tell(batch)
        for (const { lane } of batch) this.untold.toldAll(lane)
      } catch (error) {
        if (problemOf(error)?.status !== 422) throw error
        // One of them cannot be, such as a lane of an archived machine: it must not keep the rest.
        for (const each of batch) {
          const told = () => this.untold.toldAll(each.lane)
          await this.tell([each]).then(told, unlessRefused)
        }
        answer = await this.ask()
      }
      const sent = new Set(batch.map((each) => `${each.client} ${each.seq}`))
      this.write(this.waiting().filter((each) => !sent.has(`${each.client} ${each.seq}`)))
      return this.waiting().length > 0 ? await this.send() : answer.lanes
    } catch {
      return null
    }
  }

  /** Asks for all lanes, with all their marks. */
  ask(): Promise<Schemas["SharedBench"]> {
    return unwrap(
      calls.GET("/api/v1/shootouts/{slug}/bench/lanes", { params: { path: { slug: this.slug } } }),
    )
  }

  private tell(events: Waiting[]): Promise<Schemas["SharedBench"]> {
    const body = {
      events: events.map(({ client, seq, kind, at, lane }) => ({
        client,
        seq,
        kind,
        at_ms: Math.max(0, at + this.here.offset),
        lane: told(this.untold.of(lane), this.here, kind === "removed") as Schemas["LaneFields"],
      })),
    }
    return unwrap(
      calls.POST("/api/v1/shootouts/{slug}/bench/events", {
        params: { path: { slug: this.slug } },
        body,
      }),
    )
  }

  /** Places the clock again now and then, away from any press: clocks drift apart. */
  async keepPlaced(): Promise<void> {
    if (lanes.now() - this.placedAt < CLOCK_AGAIN_MS) return
    await this.place().catch(() => null)
  }

  /** Places this device's clock: of five round trips the shortest tells most. */
  private async place(): Promise<void> {
    let best = { trip: Number.POSITIVE_INFINITY, offset: this.here.offset }
    for (let round = 0; round < ROUNDS; round += 1) {
      const before = lanes.now()
      const { now_ms } = (await unwrap(calls.GET("/api/v1/clock"))) as { now_ms: number }
      const after = lanes.now()
      const trip = after - before
      if (trip < best.trip) best = { trip, offset: now_ms - (before + after) / 2 }
    }
    this.here.offset = best.offset
    this.here.half = best.trip / 2
    this.placedAt = lanes.now()
  }
}

/** Marks that the server does not know yet: an event need not tell the others again. */
class Untold {
  private readonly known = new Map<string, Set<string>>()

  /** The lane with those of its marks that were not told; the newest where they are too many. */
  of(lane: NumberedLane): NumberedLane {
    const known = this.known.get(lane.key)
    const marks = lane.marks.filter((mark) => !known?.has(JSON.stringify(mark)))
    return { ...lane, marks: marks.slice(-MOST_MARKS) }
  }

  toldAll(lane: NumberedLane): void {
    const known = this.known.get(lane.key) ?? new Set()
    for (const mark of lane.marks) known.add(JSON.stringify(mark))
    // Runs long since over are told no more.
    if (this.known.size > 4 * MOST_LANES) this.known.clear()
    this.known.set(lane.key, known)
  }
}

function unlessRefused(error: unknown): void {
  if (problemOf(error)?.status !== 422) throw error
}

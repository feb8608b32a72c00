/** Runs on their way to the server: kept on this device until it has them. */
import { addMarks, addRun, reviseRun } from "../api/changes"
import { problemOf, type Schemas } from "../api/client"
import { keptClock } from "../theme/format"
import { elapsed, type Lane, type MarkAt, TOLD_S } from "./lane"

/** What waits on this device as JSON lines, to be brought in by another. */
export function outboxLog(): string {
  return waiting()
    .map(({ body, marks }) => `${JSON.stringify({ event: "run", run: body, marks })}\n`)
    .join("")
}

/** The state that a run should have; a later one for the same key replaces it. */
export type Wanted = { slug: string; body: Schemas["NewRun"]; why: string; marks: MarkAt[] }

const KEPT = "tm-outbox"

export function waiting(): Wanted[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(KEPT) ?? "[]")
    return Array.isArray(kept) ? (kept as Wanted[]) : []
  } catch {
    return []
  }
}

/** Whether the run of a key is still on its way. */
export function isWaiting(key: string): boolean {
  return waiting().some((item) => item.body.client_key === key)
}

function write(items: Wanted[]): void {
  localStorage.setItem(KEPT, JSON.stringify(items))
}

export function want(item: Wanted): void {
  const others = waiting().filter((each) => each.body.client_key !== item.body.client_key)
  write([...others, item])
}

/**
 * Another device stopped the same run a moment earlier: what waits here then says the same
 * time as what waits there, so that whichever comes last changes nothing.
 */
export function settle(lane: Lane): void {
  const seconds = elapsed(lane, 0)
  if (seconds < TOLD_S) return
  const typed = keptClock(seconds, TOLD_S)
  write(
    waiting().map((item) =>
      item.body.client_key === lane.key && item.body.status === "ok"
        ? { ...item, body: { ...item.body, typed, placed_u: lane.placedU } }
        : item,
    ),
  )
}

/** Sends one wanted state; repeating it changes nothing. */
async function send(item: Wanted): Promise<Schemas["StoredRun"]> {
  const stored = await revised(item, await addRun(item.slug, item.body))
  // Those that the book has already change nothing there.
  if (item.marks?.length) {
    await addMarks(stored.run.id, item.marks).catch((error: unknown) => {
      // A mark that cannot be must not keep its run, and those behind it, from the book.
      if (problemOf(error)?.status !== 422) throw error
    })
  }
  return stored
}

async function revised(item: Wanted, stored: Schemas["StoredRun"]): Promise<Schemas["StoredRun"]> {
  const { typed = null, status = "ok", reason = null, reached = null, placed_u = 0 } = item.body
  const { run } = stored
  const same = run.typed === typed && run.status === status && run.reason === reason
  if (same && run.reached === reached && run.placed_u === placed_u) return stored
  return reviseRun(run.id, {
    version: run.version,
    why: item.why,
    typed,
    status,
    reached,
    placed_u,
    ...(reason === null ? {} : { reason }),
  })
}

export type Sent = { stored: Schemas["StoredRun"] | null; error: unknown }

let sending: Promise<Sent> | null = null

/** Sends what waits, oldest first; one at a time, whoever asks. */
export function flush(): Promise<Sent> {
  sending ??= flushAll().finally(() => {
    sending = null
  })
  return sending
}

async function flushAll(): Promise<Sent> {
  let stored: Schemas["StoredRun"] | null = null
  for (let item = waiting()[0]; item !== undefined; item = waiting()[0]) {
    const before = JSON.stringify(item)
    try {
      stored = await send(item)
    } catch (error) {
      // A conflict means that it was changed by hand meanwhile: read again and send again.
      if (problemOf(error)?.status === 409) continue
      return { stored, error }
    }
    // It may have been replaced while it was on its way: then the newer one still waits.
    write(waiting().filter((each) => JSON.stringify(each) !== before))
  }
  return { stored, error: null }
}

/** A worker that looks at a folder: its timers go on where those of a hidden page are slowed. */
import { Follower, type Order, type Said } from "./follow"
import { keepRecord, readRecord } from "./record"

/** What the page sends: which watch, then orders. */
export type ToLooker = { id: string } | Order

let follower: Follower | null = null
const orders: Order[] = []

const tell = (said: Said) => self.postMessage(said)

self.addEventListener("message", (event: MessageEvent<ToLooker>) => {
  const { data } = event
  if ("id" in data) void begin(data.id)
  else if (follower) follower.order(data)
  else orders.push(data)
})

/** Follows a watch; one page of this device at a time does, the next waits for its turn. */
async function begin(id: string): Promise<void> {
  await navigator.locks.request(`tm-watch-${id}`, async () => {
    const record = await readRecord(id)
    if (!record) return
    follower = new Follower(record, {
      wallMs: () => Date.now(),
      steadyMs: () => performance.now(),
      wait: (ms) => new Promise((resolve) => setTimeout(resolve, ms)),
      keep: keepRecord,
      tell,
    })
    for (const order of orders.splice(0)) follower.order(order)
    await follower.run()
    follower = null
  })
}

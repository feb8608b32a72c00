import { describe, expect, it } from "vitest"
import type { Schemas } from "../src/api/client"
import { armed, started, stopped } from "../src/lanes/lane"
import { flush, outboxLog, settle, type Wanted, waiting, want } from "../src/lanes/outbox"
import { refusal, serve } from "./helpers"

const RUNS = "POST /api/v1/shootouts/desk/runs"
const MARKS = "POST /api/v1/runs/r1/marks"
const REVISE = "PATCH /api/v1/runs/r1"

const wanted = (key: string, typed: string, more: Partial<Schemas["NewRun"]> = {}): Wanted =>
  ({
    slug: "desk",
    body: { client_key: key, typed, status: "ok", ...more },
    why: "Stopped late",
    marks: [],
  }) as unknown as Wanted

/** The run as the book has it. */
const stored = (typed: string, version = 1) => ({
  run: { id: "r1", version, typed, status: "ok", reason: null, reached: null, placed_u: 0 },
})

describe("a run on its way", () => {
  it("waits until the book has it, and is then forgotten here", async () => {
    want(wanted("k1", "1:00.00"))
    const asked = serve({ [RUNS]: stored("1:00.00") })
    expect((await flush()).error).toBeNull()
    expect(asked.map(({ method, path }) => `${method} ${path}`)).toEqual([RUNS])
    expect(waiting()).toEqual([])
  })
  it("stays on this device where the server is away", async () => {
    want(wanted("k1", "1:00.00"))
    serve({ [RUNS]: new TypeError("Failed to fetch") })
    expect((await flush()).error).not.toBeNull()
    expect(waiting().map((each) => each.body.typed)).toEqual(["1:00.00"])
  })
  it("goes before those that came after it", async () => {
    want(wanted("k1", "1:00.00"))
    want(wanted("k2", "2:00.00"))
    const asked = serve({ [RUNS]: refusal(503, "Not now.") })
    await flush()
    expect(asked).toHaveLength(1)
    expect(waiting().map((each) => each.body.client_key)).toEqual(["k1", "k2"])
  })
  it("is one whatever was pressed meanwhile: the last wish counts", () => {
    want(wanted("k1", "1:00.00"))
    want(wanted("k1", "0:58.50"))
    expect(waiting().map((each) => each.body.typed)).toEqual(["0:58.50"])
  })
  it("that the book has with another time is set right, with the reason", async () => {
    want(wanted("k1", "0:58.50"))
    const asked = serve({ [RUNS]: stored("1:00.00", 4), [REVISE]: stored("0:58.50", 5) })
    await flush()
    expect(asked[1]?.body).toMatchObject({ version: 4, typed: "0:58.50", why: "Stopped late" })
    expect(waiting()).toEqual([])
  })
  it("is kept though a mark of it cannot be", async () => {
    want({ ...wanted("k1", "1:00.00"), marks: [{ elapsed_s: 999, fraction: 0.5 }] })
    const asked = serve({ [RUNS]: stored("1:00.00"), [MARKS]: refusal(422, "After the end.") })
    expect((await flush()).error).toBeNull()
    expect(asked).toHaveLength(2)
    expect(waiting()).toEqual([])
  })
  it("waits with its marks where those could not be sent", async () => {
    want({ ...wanted("k1", "1:00.00"), marks: [{ elapsed_s: 9, fraction: 0.5 }] })
    serve({ [RUNS]: stored("1:00.00"), [MARKS]: refusal(500, "Broken.") })
    await flush()
    expect(waiting()).toHaveLength(1)
  })
  it("is sent once however many ask at once", async () => {
    want(wanted("k1", "1:00.00"))
    const asked = serve({ [RUNS]: stored("1:00.00") })
    await Promise.all([flush(), flush(), flush()])
    expect(asked).toHaveLength(1)
  })
})

describe("what waits", () => {
  it("can be taken to another device as lines", () => {
    want({ ...wanted("k1", "1:00.00"), marks: [{ elapsed_s: 9, fraction: 0.5 }] })
    const lines = outboxLog().trimEnd().split("\n")
    expect(lines.map((line) => JSON.parse(line))).toEqual([
      {
        event: "run",
        run: { client_key: "k1", typed: "1:00.00", status: "ok" },
        marks: [{ elapsed_s: 9, fraction: 0.5 }],
      },
    ])
  })
  it("is nothing where something else stands in its place", () => {
    for (const kept of ["{", '"text"', "null"]) {
      localStorage.setItem("tm-outbox", kept)
      expect(waiting()).toEqual([])
    }
  })
  it("says the time of the stop that stands where another device was first", () => {
    want(wanted("k1", "1:00.90"))
    want(wanted("k2", "3:00.00"))
    settle(stopped(started(armed("a", "render", "k1"), 1000), 61_000))
    expect(waiting().map((each) => each.body.typed)).toEqual(["1:00.00", "3:00.00"])
  })
  it("stays as it is where a run failed", () => {
    want(wanted("k1", "1:00.90", { status: "failed" }))
    settle(stopped(started(armed("a", "render", "k1"), 1000), 61_000))
    expect(waiting()[0]?.body.typed).toBe("1:00.90")
  })
})

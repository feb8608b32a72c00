import { describe, expect, it } from "vitest"
import { calls, ProblemError, postForm, problemOf, unwrap } from "../src/api/client"
import { finished } from "../src/api/jobs"
import { isAway } from "../src/api/queries"
import { refusal, serve } from "./helpers"

const shootouts = () => unwrap(calls.GET("/api/v1/shootouts"))

async function problemFrom(call: Promise<unknown>) {
  const error = await call.then(
    () => null,
    (thrown: unknown) => thrown,
  )
  expect(error).toBeInstanceOf(ProblemError)
  return problemOf(error)
}

describe("an answer", () => {
  it("gives its data", async () => {
    serve({ "GET /api/v1/shootouts": [{ slug: "one" }] })
    expect(await shootouts()).toEqual([{ slug: "one" }])
  })

  it("that refuses is thrown as the server words it", async () => {
    serve({ "GET /api/v1/shootouts": refusal(422, "Say why.", { field: "reason" }) })
    const problem = await problemFrom(shootouts())
    expect(problem).toMatchObject({ status: 422, detail: "Say why.", field: "reason" })
  })

  it("that is no problem document still says what happened", async () => {
    serve({ "GET /api/v1/shootouts": new Response("<html>", { status: 502 }) })
    const problem = await problemFrom(shootouts())
    expect(problem?.detail).toBe("The server answered 502. Nothing was stored; try again.")
  })

  it("that never comes says that nothing was stored", async () => {
    serve({ "GET /api/v1/shootouts": new TypeError("network") })
    const problem = await problemFrom(shootouts())
    expect(problem).toMatchObject({ status: 0, type: "/problems/away" })
  })

  it("to a form is read the same way", async () => {
    serve({ "POST /api/v1/packs": { id: "1" } })
    expect(await postForm("/api/v1/packs", new FormData())).toEqual({ id: "1" })
    serve({ "POST /api/v1/packs": refusal(413, "Too large.") })
    expect((await problemFrom(postForm("/api/v1/packs", new FormData())))?.detail).toBe(
      "Too large.",
    )
  })
})

describe("silence", () => {
  it.each([
    [0, true],
    [503, true],
    [500, false],
    [422, false],
  ])("%i is worth another try: %s", (status, away) => {
    const problem = { type: "", title: "", status, detail: "" }
    expect(isAway(new ProblemError(problem))).toBe(away)
  })
  it("is not what a defect of the page throws", () => {
    expect(isAway(new TypeError("x"))).toBe(false)
  })
})

describe("a job", () => {
  const running = {
    id: "7",
    state: "running",
    step: "reading",
    done: 0.2,
    slug: null,
    stored: null,
    problem: null,
  }
  it("is waited for, with how far it is", async () => {
    serve({ "GET /api/v1/jobs/7": { ...running, state: "done", done: 1, slug: "made" } })
    const told: number[] = []
    const done = await finished(running, (job) => told.push(job.done))
    expect([done.slug, told]).toEqual(["made", [0.2]])
  })
  it("that failed throws why", async () => {
    const problem = { kind: "refused" as const, detail: "runs.csv row 3: no time", field: "file" }
    const failed = { ...running, state: "failed", problem }
    const thrown = await problemFrom(finished(failed, () => undefined))
    expect(thrown).toMatchObject({ detail: "runs.csv row 3: no time", field: "file" })
  })
})

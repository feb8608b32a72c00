import { QueryClientProvider } from "@tanstack/react-query"
import { act, render, screen, waitFor } from "@testing-library/react"
import { beforeEach, describe, expect, it } from "vitest"
import type { Schemas } from "../src/api/client"
import { queryClient } from "../src/api/queries"
import { useLaneTalk } from "../src/frame/useLaneTalk"
import { benchOf } from "../src/lanes/bench"
import { now } from "../src/lanes/lane"
import { Announcer } from "../src/reach/Announcer"
import { useChangedResults } from "../src/stages/margins/useChangedResults"
import { serve } from "./helpers"

const SETUPS = [
  { id: "s", label: "Halyard S", mark: 1 },
  { id: "t", label: "Tarn Desk", mark: 2 },
]

let slug = ""
beforeEach(() => {
  // A bench outlives the screen that shows it: each test has one of its own.
  slug = `talk-${Math.random()}`
  serve({ [`GET /api/v1/shootouts/${slug}/lineup`]: { setups: SETUPS, columns: [] } })
})

function Talk() {
  useLaneTalk(slug)
  return null
}

async function listen() {
  const bench = benchOf(slug)
  render(
    <QueryClientProvider client={queryClient}>
      <Talk />
      <Announcer />
    </QueryClientProvider>,
  )
  act(() => bench.add("s", ["task"]))
  await waitFor(() =>
    expect(queryClient.getQueriesData({ predicate: (each) => each.isActive() })).not.toEqual([]),
  )
  await waitFor(() => expect(queryClient.isFetching()).toBe(0))
  return bench
}

const said = () => screen.getByRole("status").textContent ?? ""

describe("a timer", () => {
  it("is said to start, to end with its time, and to be ready again; not how far it is", async () => {
    const bench = await listen()
    const before = said()
    const at = now()
    act(() => bench.start(1, at))
    expect(said().slice(before.length)).toBe("Timer 1, Halyard S, started.")
    act(() => bench.stop(1, at + 83_400))
    expect(said()).toContain("Timer 1, Halyard S, ended: 1:23.4.")
    act(() => bench.rearm(1))
    expect(said()).toContain("Timer 1, Halyard S, is ready.")
    expect(
      said()
        .slice(before.length)
        .match(/Timer 1/g),
    ).toHaveLength(3)
  })

  it("that runs on after a press was taken back is said to", async () => {
    const bench = await listen()
    const at = now() - 60_000
    act(() => bench.start(1, at))
    act(() => bench.stop(1, now()))
    act(() => bench.undo())
    expect(said()).toContain("Timer 1, Halyard S, runs on.")
  })

  it("that stood there before anybody looked is not news", async () => {
    const bench = benchOf(slug)
    act(() => bench.add("t", ["task"]))
    act(() => bench.start(1, now()))
    render(
      <QueryClientProvider client={queryClient}>
        <Talk />
        <Announcer />
      </QueryClientProvider>,
    )
    await waitFor(() => expect(queryClient.isFetching()).toBe(0))
    expect(said()).not.toContain("Tarn Desk")
  })
})

describe("a ranking", () => {
  const row = (setup_id: string, call: string) => ({ setup_id, call, label: setup_id })
  const view = (baseline: string, key: string, ...rows: object[]) =>
    ({ key, baseline, rows }) as unknown as Schemas["LadderView"]
  const mark = Math.random().toString(36).slice(2, 8)

  function Ranking({ of }: { of: Schemas["LadderView"] }) {
    useChangedResults(of)
    return <Announcer />
  }

  it("says which results changed while it is looked at", () => {
    const [b, c] = [`B-${mark}`, `C-${mark}`]
    const { rerender } = render(<Ranking of={view("A", "t", row(b, "open"), row(c, "clear"))} />)
    rerender(<Ranking of={view("A", "t", row(b, "clear"), row(c, "clear"))} />)
    expect(said()).toContain(`1 result changed: ${b}: clear.`)
  })

  it("says only how many where the baseline changed", () => {
    const rows = ["D", "E", "F"].map((name) => `${name}-${mark}`)
    const all = (call: string) => rows.map((name) => row(name, call))
    const { rerender } = render(<Ranking of={view("A", "t", ...all("clear"))} />)
    rerender(<Ranking of={view("B", "t", ...all("level"))} />)
    expect(said()).toContain("3 results changed.")
    expect(said()).not.toContain(`D-${mark}`)
  })

  it("of another task is another ranking, in which nothing changed", () => {
    const name = `G-${mark}`
    const { rerender } = render(<Ranking of={view("A", "t", row(name, "open"))} />)
    rerender(<Ranking of={view("A", "u", row(name, "clear"))} />)
    expect(said()).not.toContain(name)
  })
})

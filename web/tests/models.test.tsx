import { fireEvent, screen, waitFor } from "@testing-library/react"
import { describe, expect, it } from "vitest"
import type { Schemas } from "../src/api/client"
import { FrozenPlan } from "../src/stages/lineup/FrozenPlan"
import { Answer } from "../src/stages/picks/Answer"
import type { Draft } from "../src/stages/picks/draft"
import { FieldTable } from "../src/stages/picks/FieldTable"
import { ImportPanel } from "../src/stages/runs/ImportPanel"
import { pickRow, pickView, refusal, serve, show } from "./helpers"

const PLAN = "/api/v1/shootouts/one/frozen-plan"

function plan(more: Partial<Schemas["PlanView"]> = {}): Schemas["PlanView"] {
  return { plan: null, earlier: 0, why_not: null, ...more }
}

const FROZEN = {
  frozen_at: "2026-11-29T10:00:00Z",
  who: "Marit",
  says: "Planned on 29 November 2026, before the first run: 3 runs of each.",
  otherwise: ["Planned and not timed: Titles."],
}

describe("a plan", () => {
  it("is frozen with what would count, once", async () => {
    const asked = serve({
      [`GET ${PLAN}`]: plan(),
      [`POST ${PLAN}`]: plan({ plan: { ...FROZEN, otherwise: [] } }),
    })
    show(<FrozenPlan slug="one" />)
    const field = await screen.findByLabelText(/What would count/)
    fireEvent.change(field, { target: { value: "five minutes sooner" } })
    fireEvent.click(screen.getByRole("button", { name: "Freeze the plan" }))
    await waitFor(() => {
      const posted = asked.filter((each) => each.method === "POST")
      expect(posted.map((each) => each.body)).toEqual([{ words: "five minutes sooner" }])
    })
  })

  it("shows what was done otherwise, and cannot be frozen after a run", async () => {
    const why = "The first run is of 29 November 2026: a plan is frozen before it."
    serve({ [`GET ${PLAN}`]: plan({ plan: FROZEN, earlier: 2, why_not: why }) })
    show(<FrozenPlan slug="one" />)
    await screen.findByText(FROZEN.says)
    expect(screen.getByText(/2 plans before it replaced/)).toBeTruthy()
    expect(screen.getByRole("list", { name: "Done otherwise" }).textContent).toBe(
      "Planned and not timed: Titles.",
    )
    expect(screen.queryByRole("button")).toBeNull()
  })

  it("says why there is none where a run was made already", async () => {
    serve({ [`GET ${PLAN}`]: plan({ why_not: "The first run is of today." }) })
    show(<FrozenPlan slug="one" />)
    await screen.findByText("The first run is of today.")
    expect(screen.queryByLabelText(/What would count/)).toBeNull()
  })

  it("keeps what was typed where it is refused", async () => {
    serve({
      [`GET ${PLAN}`]: plan(),
      [`POST ${PLAN}`]: refusal(422, "Say first how many runs are planned."),
    })
    show(<FrozenPlan slug="one" />)
    const field = await screen.findByLabelText(/What would count/)
    fireEvent.change(field, { target: { value: "five minutes" } })
    fireEvent.click(screen.getByRole("button", { name: "Freeze the plan" }))
    await screen.findByText("Say first how many runs are planned.")
    expect((field as HTMLInputElement).value).toBe("five minutes")
  })
})

const PICKED = {
  setup_id: "b",
  label: "Halyard",
  keep: false,
  price: "900",
  prob_best: 0.97,
  what: "Halyard, 900 EUR",
  reason: "Nothing is more than 3 % faster at this work.",
  surety: "97 in 100",
  sentence: "Halyard, 900 EUR; 97 in 100.",
  level: null,
  second: null,
  second_id: null,
  caution: null,
}

function run(accepted: boolean): Schemas["PredictedRun"] {
  return {
    task_id: "t",
    task: "Parade",
    seconds: 300,
    lo: 290,
    hi: 310,
    span: "4:50 to 5:10",
    accepted,
    words: "One run takes 4:50 to 5:10.",
  }
}

function answer(accepted: boolean) {
  const view = pickView([pickRow("b")], {
    picked: PICKED,
    samples: "One sample of each model was timed.",
    predicted: [run(accepted)],
  })
  return show(
    <Answer
      view={view}
      draft={{ rule: "fastest" } as Draft}
      stale={false}
      placeOf={() => 0}
      onRule={() => undefined}
      onTry={() => undefined}
    />,
  )
}

describe("a pick of a model", () => {
  it("says what is known of other samples, and how long one run takes on one", () => {
    answer(false)
    expect(screen.getByText("One sample of each model was timed.")).toBeTruthy()
    expect(screen.getByText("4:50 to 5:10")).toBeTruthy()
    expect(screen.getByText(/^One run on/).closest("details")?.open).toBe(false)
  })

  it("is open where the viewer stated a time", () => {
    answer(true)
    expect(screen.getByText(/^One run on/).closest("details")?.open).toBe(true)
  })

  it("names the samples whose mean it is", () => {
    const view = pickView([pickRow("b", { label: "Halyard", samples: ["B", "B2"] })])
    show(<FieldTable view={view} placeOf={() => 0} />)
    expect(screen.getByRole("rowheader", { name: /Halyard/ }).textContent).toContain(
      "mean of B, B2",
    )
  })
})

const MADE = { run_ids: ["r"], ratio_ids: [], price_ids: [], machine_ids: [], cells: [] }

function counts(times: number): Schemas["SheetCounts"] {
  const none = { amounts: 0, failed: 0, void: 0, ratios: 0, prices: 0, specs: 0, same: 0 }
  return { ...none, times, cells_waiting: 0, columns_waiting: 0, names_waiting: 0, columns_out: 0 }
}

describe("a sheet that was brought in", () => {
  it("is taken back with all that came with it", async () => {
    const preview = {
      divider: "\t",
      turned: false,
      title: "",
      headline: "1 result is ready.",
      needs: "",
      columns: [],
      rows: [],
      rows_total: 1,
      tasks: [],
      aside: [],
      new_setups: [],
      new_rounds: [],
      apps: [],
      counts: counts(1),
      saved: ["1 time, lower is better"],
    }
    const stored = { slug: "one", results: 1, ratios: 0, prices: 0, specs: 0, machines: 0 }
    const asked = serve({
      "POST /api/v1/shootouts/one/imports/preview": preview,
      "POST /api/v1/shootouts/one/imports": {
        ...stored,
        tasks: 1,
        same: 0,
        waiting: 0,
        made: MADE,
      },
      "POST /api/v1/shootouts/one/imports/undo": {
        says: "Taken back: 1 run. All of it is kept.",
        stays: ["Memory of A: changed since."],
      },
    })
    show(<ImportPanel slug="one" onClose={() => undefined} />)
    fireEvent.change(screen.getByRole("textbox"), { target: { value: "A / photos / 8:46" } })
    fireEvent.click(screen.getByRole("button", { name: "Preview" }))
    fireEvent.click(await screen.findByRole("button", { name: "Import 1 result" }))
    fireEvent.click(await screen.findByRole("button", { name: "Undo: take all of it back" }))
    await screen.findByText("Taken back: 1 run. All of it is kept.")
    expect(screen.queryByText(/Imported/)).toBeNull()
    expect(screen.getByText("Memory of A: changed since.")).toBeTruthy()
    expect(screen.getByText("The new tasks stay, without runs.")).toBeTruthy()
    expect(asked.find((each) => each.path.endsWith("/undo"))?.body).toEqual(MADE)
    expect(screen.queryByRole("button", { name: /Undo/ })).toBeNull()
  })
})

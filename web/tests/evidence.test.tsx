import { render, screen, waitFor } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { afterEach, describe, expect, it, vi } from "vitest"
import { readLate } from "../src/lanes/marks"
import { JudgeForm } from "../src/parts/JudgeForm"
import { PickFile } from "../src/parts/PickFile"
import { useKept } from "../src/parts/useKept"
import { WithdrawWord } from "../src/parts/WithdrawWord"
import type { Sheet } from "../src/stages/tasks/job"
import { MeasureRow } from "../src/stages/tasks/MeasureRow"
import { SensitiveTo } from "../src/stages/tasks/SensitiveTo"
import { amount, compact, runValue } from "../src/theme/format"
import { refusal, serve, show } from "./helpers"

afterEach(() => {
  vi.unstubAllGlobals()
  sessionStorage.clear()
})

function Draft({ name }: { name: string }) {
  const [draft, keep, drop] = useKept(name, { text: "", more: 0 })
  return (
    <>
      <input
        aria-label={name}
        value={draft.text}
        onChange={(event) => keep((before) => ({ ...before, text: event.target.value }))}
      />
      <output>{draft.more}</output>
      <button
        type="button"
        onClick={() => {
          keep((before) => ({ ...before, more: before.more + 1 }))
          keep((before) => ({ ...before, more: before.more + 1 }))
        }}
      >
        Twice
      </button>
      <button type="button" onClick={drop}>
        Drop
      </button>
    </>
  )
}
const typed = (name: string) => screen.getByLabelText(name) as HTMLInputElement

describe("a draft that stays when one leaves the page", () => {
  it("is there again, each under its own name, until it is dropped", async () => {
    const first = render(<Draft name="one" />)
    await userEvent.type(typed("one"), "Holiday film")
    first.unmount()
    const other = render(<Draft name="other" />)
    expect(typed("other").value).toBe("")
    other.unmount()
    const again = render(<Draft name="one" />)
    expect(typed("one").value).toBe("Holiday film")
    await userEvent.click(screen.getByRole("button", { name: "Drop" }))
    expect(typed("one").value).toBe("")
    again.unmount()
    render(<Draft name="one" />)
    expect(typed("one").value).toBe("")
  })
  it("loses no change of several in one go", async () => {
    render(<Draft name="one" />)
    await userEvent.click(screen.getByRole("button", { name: "Twice" }))
    expect(screen.getByRole("status").textContent).toBe("2")
  })
  it("lives as long as the page where nothing can be kept, or what is kept is broken", async () => {
    sessionStorage.setItem("draft: one", "{broken")
    vi.spyOn(Storage.prototype, "setItem").mockImplementation(() => {
      throw new Error("full")
    })
    render(<Draft name="one" />)
    await userEvent.type(typed("one"), "x")
    expect(typed("one").value).toBe("x")
    vi.restoreAllMocks()
  })
})

describe("a person's word", () => {
  const about = { setup_id: "a", other_setup_id: "b" }
  const form = <JudgeForm slug="s" taskId="t" about={about} open="Say so" />
  it("is sent with its reason, and says what it does", async () => {
    const asked = serve({ "POST /api/v1/tasks/t/judgements": { id: "w" } })
    show(form)
    await userEvent.click(screen.getByRole("button", { name: "Say so" }))
    expect(screen.getByText(/The two get no verdict/)).toBeTruthy()
    await userEvent.selectOptions(
      screen.getByLabelText("What do you say of it?"),
      "nearly the same",
    )
    expect(screen.getByText(/The verdict stands/)).toBeTruthy()
    const keep = screen.getByRole("button", { name: "Save my word" })
    expect(keep.getAttribute("aria-disabled")).toBe("true")
    await userEvent.type(screen.getByLabelText("Why?"), "one fade less{Enter}")
    await waitFor(() => expect(screen.getByRole("button", { name: "Say so" })).toBeTruthy())
    expect(asked.find(({ method }) => method === "POST")).toEqual({
      method: "POST",
      path: "/api/v1/tasks/t/judgements",
      body: { ...about, judged_as: "nearly the same", reason: "one fade less" },
    })
  })
  it("keeps what was typed where it is refused", async () => {
    serve({ "POST /api/v1/tasks/t/judgements": refusal(422, "This was said already.") })
    show(form)
    await userEvent.click(screen.getByRole("button", { name: "Say so" }))
    await userEvent.type(screen.getByLabelText("Why?"), "no titles{Enter}")
    expect(await screen.findByText("This was said already.")).toBeTruthy()
    expect(typed("Why?").value).toBe("no titles")
  })
  it("is taken back with a reason", async () => {
    const asked = serve({ "POST /api/v1/judgements/w/withdrawal": { id: "w" } })
    const word = { id: "w", who: "Jo", noted_at: "2026-11-03T10:00:00Z" }
    show(<WithdrawWord slug="s" word={word as Parameters<typeof WithdrawWord>[0]["word"]} />)
    await userEvent.click(screen.getByRole("button", { name: "Undo" }))
    await userEvent.type(screen.getByLabelText(/Why does it count no more/), "it was{Enter}")
    await waitFor(() => expect(asked[0]?.body).toEqual({ why: "it was" }))
  })
})

const sheet = (more: Partial<Sheet["task"]> = {}, runs = 2) =>
  ({
    runs,
    task: {
      id: "t",
      version: 3,
      measure: "time",
      unit: null,
      sensitivities: [],
      ...more,
    },
  }) as unknown as Sheet

describe("another measure", () => {
  const seen = {
    task_id: "t",
    measure: "amount",
    unit: "points",
    runs: 2,
    problems: 0,
    stored: false,
    rows: [
      {
        run_id: "1",
        setup: "A",
        typed: "2390",
        was: "39:50",
        becomes: "2390 points",
        problem: null,
      },
    ],
  }
  it("shows what would become of every run before it is done", async () => {
    const asked = serve({ "POST /api/v1/tasks/t/measure": seen })
    show(<MeasureRow slug="s" sheet={sheet()} />)
    await userEvent.click(screen.getByRole("button", { name: "Make it an amount" }))
    await userEvent.type(screen.getByLabelText("Unit"), "points{Enter}")
    expect(await screen.findByText("2390 points")).toBeTruthy()
    await userEvent.click(screen.getByRole("button", { name: "Read 2 runs again" }))
    await waitFor(() => expect(asked.filter((each) => each.method === "POST")).toHaveLength(2))
    expect(asked.map((each) => (each.body as { really: boolean }).really).slice(0, 2)).toEqual([
      false,
      true,
    ])
  })
  it("cannot be done while a run cannot be read so", async () => {
    const row = { ...seen.rows[0], becomes: null, problem: "58:10 is no amount." }
    serve({ "POST /api/v1/tasks/t/measure": { ...seen, problems: 1, rows: [row] } })
    show(<MeasureRow slug="s" sheet={sheet()} />)
    await userEvent.click(screen.getByRole("button", { name: "Make it an amount" }))
    await userEvent.type(screen.getByLabelText("Unit"), "points{Enter}")
    expect(await screen.findByText("58:10 is no amount.")).toBeTruthy()
    const done = screen.getByRole("button", { name: "Read 2 runs again" })
    expect(done.getAttribute("aria-disabled")).toBe("true")
  })
  it("is just done where there are no runs", async () => {
    const asked = serve({ "POST /api/v1/tasks/t/measure": { ...seen, stored: true } })
    show(<MeasureRow slug="s" sheet={sheet({}, 0)} />)
    await userEvent.click(screen.getByRole("button", { name: "Make it an amount" }))
    await userEvent.click(screen.getByRole("button", { name: "Change it" }))
    await waitFor(() => expect(asked[0]?.body).toMatchObject({ really: true }))
  })
})

describe("what moves a task", () => {
  it("is added with how much, and taken out", async () => {
    const send = vi.fn(() => Promise.resolve({ saved: true as const }))
    const known = { to: "caches", up_to_s: 5, why: "" }
    show(<SensitiveTo sheet={sheet({ sensitivities: [known] })} send={send} />)
    await userEvent.click(screen.getByRole("button", { name: "Add what moves it" }))
    await userEvent.type(screen.getByRole("combobox", { name: "Sensitive to" }), "memory")
    await userEvent.type(screen.getByRole("textbox", { name: "up to" }), "a while{Enter}")
    expect(screen.getByRole("alert").textContent).toBe("Type it like 20 s or 1:10.")
    await userEvent.clear(screen.getByRole("textbox", { name: "up to" }))
    await userEvent.type(screen.getByRole("textbox", { name: "up to" }), "1:10{Enter}")
    const added = { to: "memory", up_to_s: 70, why: "" }
    expect(send).toHaveBeenCalledWith({ sensitivities: [known, added] })
    await userEvent.click(screen.getByRole("button", { name: "Not sensitive to caches" }))
    expect(send).toHaveBeenLastCalledWith({ sensitivities: [] })
  })
})

describe("a file that is picked", () => {
  it("is given on, and the same one may be picked again", async () => {
    const took = vi.fn()
    render(<PickFile label="Picture" accept="image/png" onFile={took} quiet />)
    const file = new File(["x"], "a.png", { type: "image/png" })
    await userEvent.upload(screen.getByLabelText("Picture", { selector: "input" }), file)
    await userEvent.upload(screen.getByLabelText("Picture", { selector: "input" }), file)
    expect(took).toHaveBeenCalledTimes(2)
  })
})

describe("readings and amounts", () => {
  it.each([
    ["63 % at 7:20", { fraction: 0.63, elapsed_s: 440 }],
    ["41 dB", { noise_db: 41, elapsed_s: null }],
    ["120 %", null],
  ])("reads %s", (text, said) => {
    expect(readLate(text)).toEqual(said)
  })
  it("keeps every whole digit of an amount", () => {
    expect([compact(12_345), compact(1_234_567.8), compact(0.12345)]).toEqual([
      "12345",
      "1234568",
      "0.1235",
    ])
    expect([amount(12_345.5, 0.1), amount(3210, 1), amount(null, 1), amount(7.5, null)]).toEqual([
      "12345.5",
      "3210",
      "–",
      "7.5",
    ])
    const run = { value: 98_765, resolution: 1, bound: ">", approximate: false }
    expect(runValue(run, "amount")).toBe("> 98765")
  })
})

import { fireEvent, screen, waitFor, within } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { describe, expect, it, vi } from "vitest"
import type { Schemas } from "../src/api/client"
import type { Cut } from "../src/lanes/film/cut"
import { filmOf } from "../src/lanes/film/frames"
import { CutRow } from "../src/stages/bench/film/CutRow"
import { Editions } from "../src/stages/publish/Editions"
import { EditRound, OpenRound } from "../src/stages/tasks/RoundForms"
import { refusal, serve, show } from "./helpers"

const BASE = "/api/v1/shootouts/here"
const ROUND = {
  id: "r1",
  name: "spring",
  versions: [{ app: "Heddle", version: "6.1" }],
} as Schemas["Round"]

describe("a round", () => {
  it("gets another name and the versions that were typed, without the empty ones", async () => {
    const asked = serve({ "PATCH /api/v1/rounds/r1": ROUND, "PUT /api/v1/rounds/r1": ROUND })
    const done = vi.fn()
    show(<EditRound slug="here" round={ROUND} apps={["Heddle", "Sprocketry"]} onDone={done} />)
    const name = screen.getByLabelText("Name of the round")
    await userEvent.clear(name)
    await userEvent.type(name, "early spring")
    await userEvent.type(screen.getByLabelText("Version of Sprocketry"), "  ")
    await userEvent.click(screen.getByRole("button", { name: "Save" }))
    await waitFor(() => expect(done).toHaveBeenCalledOnce())
    const sent = asked.find(({ method }) => method !== "GET")
    expect(sent?.body).toMatchObject({ name: "early spring", versions: { Heddle: "6.1" } })
    expect(sent?.body).not.toHaveProperty("versions.Sprocketry")
  })

  it("says what is missing instead of sending a round without a name", async () => {
    const asked = serve({})
    show(<OpenRound slug="here" sheets={[]} onDone={vi.fn()} />)
    const open = screen.getByRole("button", { name: "Open round" })
    expect(open.getAttribute("aria-disabled")).toBe("true")
    await userEvent.click(open)
    expect(asked).toHaveLength(0)
    expect(document.body.textContent).toContain("Needs a name.")
  })

  it("is opened with one field for each app, once", async () => {
    const asked = serve({ [`POST ${BASE}/rounds`]: ROUND })
    const sheets = ["Heddle", "Sprocketry", "Heddle"].map((app) => ({ task: { app } })) as never
    const done = vi.fn()
    show(<OpenRound slug="here" sheets={sheets} onDone={done} />)
    expect(screen.getAllByLabelText(/^Version of /)).toHaveLength(2)
    await userEvent.type(screen.getByLabelText("Name of the round"), "winter")
    await userEvent.type(screen.getByLabelText("Version of Heddle"), "6.4")
    await userEvent.click(screen.getByRole("button", { name: "Open round" }))
    await waitFor(() => expect(done).toHaveBeenCalledOnce())
    const sent = asked.find(({ path }) => path.endsWith("/rounds"))
    expect(sent?.body).toEqual({ name: "winter", versions: { Heddle: "6.4" } })
  })

  it("keeps what was typed where it is refused, with the reason", async () => {
    serve({ [`POST ${BASE}/rounds`]: refusal(422, "There is a round of that name.") })
    const done = vi.fn()
    show(<OpenRound slug="here" sheets={[]} onDone={done} />)
    await userEvent.type(screen.getByLabelText("Name of the round"), "spring")
    await userEvent.click(screen.getByRole("button", { name: "Open round" }))
    await screen.findByText(/There is a round of that name/)
    expect(done).not.toHaveBeenCalled()
    expect((screen.getByLabelText("Name of the round") as HTMLInputElement).value).toBe("spring")
  })
})

// Four frames a second, of which the last is shown as long as the others.
const FILM = filmOf("bench.mp4", [0, 0.25, 0.5, 0.75, 1, 1.25, 1.5, 1.75, 2], 0.25)
const SETUPS = [
  { id: "s", label: "Halyard S", mark: 2 },
  { id: "l", label: "Halyard L", mark: 3 },
] as Schemas["Setup"][]
const TASKS = [{ id: "t", name: "Parade" }] as Schemas["Task"][]
const CUT: Cut = { id: "c", setupId: "s", taskId: "t", start: null, end: null, marks: [] }

function row(cut: Partial<Cut> = {}, more: Partial<Parameters<typeof CutRow>[0]> = {}) {
  const told = { change: vi.fn(), go: vi.fn(), store: vi.fn(), proof: vi.fn(), choose: vi.fn() }
  show(
    <CutRow
      film={FILM}
      frame={4}
      cut={{ ...CUT, ...cut }}
      number={1}
      chosen
      stored={false}
      waiting={false}
      proof={undefined}
      setups={SETUPS}
      tasks={TASKS}
      onChoose={told.choose}
      onChange={told.change}
      onGo={told.go}
      onStore={told.store}
      onProof={told.proof}
      {...more}
    />,
  )
  return told
}

describe("a run that is read off a film", () => {
  it("is set to the frame that is shown, at both ends", async () => {
    const told = row()
    await userEvent.click(screen.getByRole("button", { name: /Begins here/ }))
    await userEvent.click(screen.getByRole("button", { name: /Done here/ }))
    expect(told.change.mock.calls).toEqual([[{ start: 4 }], [{ end: 4 }]])
    expect(screen.queryByRole("button", { name: "Store this run" })).toBeNull()
  })

  it("says how long it is and how exactly, and is stored by a press", async () => {
    const told = row({ start: 2, end: 8 })
    expect(document.body.textContent).toContain("0:01.5")
    expect(document.body.textContent).toContain("250 ms")
    await userEvent.click(screen.getByRole("button", { name: "Store this run" }))
    expect(told.store).toHaveBeenCalledOnce()
    await userEvent.click(screen.getByRole("button", { name: "Go to where it is done" }))
    expect(told.go).toHaveBeenCalledWith(8)
  })

  it("is another machine's by a choice", () => {
    const told = row()
    fireEvent.change(screen.getByLabelText("Machine"), { target: { value: "l" } })
    expect(told.change).toHaveBeenCalledWith({ setupId: "l" })
  })

  it("takes a mark at the frame that is shown, and only a percentage", async () => {
    const told = row({ start: 0, end: 8, marks: [{ frame: 6, fraction: 0.8 }] })
    const field = screen.getByLabelText("Per cent done at this frame")
    const press = screen.getByRole("button", { name: "Mark it" })
    await userEvent.type(field, "140")
    await userEvent.click(press)
    expect(told.change).not.toHaveBeenCalled()
    await userEvent.clear(field)
    await userEvent.type(field, "40 %")
    await userEvent.click(press)
    expect(told.change).toHaveBeenCalledWith({
      marks: [
        { frame: 4, fraction: 0.4 },
        { frame: 6, fraction: 0.8 },
      ],
    })
    await userEvent.click(screen.getByRole("button", { name: "Take the mark of 80 % back" }))
    expect(told.change).toHaveBeenLastCalledWith({ marks: [] })
  })

  it("says where it is kept, and what became of its stills", async () => {
    const told = row({ start: 2, end: 8 }, { stored: true, waiting: true })
    expect(document.body.textContent).toContain("Waiting on this device, as read off a film.")
    await userEvent.click(screen.getByRole("button", { name: "Keep its stills as proof" }))
    expect(told.proof).toHaveBeenCalledOnce()
  })

  it.each([
    [{ state: "saving" }, "Keeping its stills…"],
    [{ state: "saved", stills: 3 }, "3 stills kept with it."],
    [{ state: "the disk is full" }, "Its stills are not kept: the disk is full"],
  ])("tells of its stills: %o", (proof, words) => {
    row({ start: 2, end: 8 }, { stored: true, proof: proof as never })
    expect(document.body.textContent).toContain(words)
  })
})

describe("editions", () => {
  it("are told the newest first, each with its note", () => {
    const editions = [
      { number: 2, note: "One price corrected.", made_at: "2026-11-20T10:00:00Z", changes: [] },
      { number: 1, note: null, made_at: "2026-11-02T10:00:00Z", changes: [] },
    ] as unknown as Schemas["Edition"][]
    show(<Editions editions={editions} />)
    const text = document.body.textContent ?? ""
    expect(text.indexOf("dition 2")).toBeLessThan(text.indexOf("dition 1"))
    expect(within(document.body).getByText(/One price corrected/)).toBeTruthy()
  })
})

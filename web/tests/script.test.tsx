import { screen, waitFor, within } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { beforeEach, describe, expect, it, vi } from "vitest"
import type { Schemas } from "../src/api/client"
import { queryClient } from "../src/api/queries"
import { LearntPhrasings } from "../src/stages/publish/LearntPhrasings"
import { PlainLines } from "../src/stages/publish/PlainLines"
import { ReadingChips } from "../src/stages/publish/ReadingChips"
import { ScriptDesk } from "../src/stages/publish/ScriptDesk"
import { ScriptHead } from "../src/stages/publish/ScriptHead"
import { fateOf, markOf, wordOf } from "../src/stages/publish/verdicts"
import { WebFolder } from "../src/stages/publish/WebFolder"
import { refusal, serve, show } from "./helpers"

type Claim = Schemas["CheckedLine"]

const BASE = "/api/v1/shootouts/s"

function claim(more: Partial<Claim> = {}): Claim {
  return {
    line: 2,
    text: "B gallops home 5 minutes sooner than A.",
    key: "B gallops home 5 minutes sooner than A.",
    status: "judged",
    confirmed: false,
    verdict: "holds",
    shown: more.verdict ?? "holds",
    was: null,
    was_figure: null,
    readings: [],
    figure: null,
    say: null,
    reason: "",
    behind: [],
    a: null,
    b: null,
    task: null,
    models: null,
    ...more,
  }
}

function reading(more: Partial<Schemas["ShownReading"]> = {}): Schemas["ShownReading"] {
  return {
    says: "saves",
    a: "b",
    b: "a",
    task: "t",
    number: "5:00",
    high: null,
    hedge: "none",
    denied: false,
    words: "B saves 5:00 over A on T.",
    ...more,
  }
}

const SERVED = {
  [`GET ${BASE}/lineup`]: {
    setups: [
      { id: "a", label: "A" },
      { id: "b", label: "B" },
    ],
  },
  [`GET ${BASE}/tasks`]: [
    { task: { id: "t", name: "T", measure: "time" } },
    { task: { id: "o", name: "Looked at", measure: "observation" } },
  ],
  [`GET ${BASE}/sheet`]: {},
}

beforeEach(() => queryClient.clear())

/** The lists have come; the first of them takes its time on a busy machine. */
const tasksThere = () => screen.findAllByRole("option", { name: "T" }, { timeout: 10_000 })

describe("what becomes of a claim", () => {
  it("waits for a person before any verdict is said of it", () => {
    const waiting = claim({ status: "confirm", verdict: "asked" })
    expect([fateOf(waiting), wordOf(waiting), markOf(waiting).bar]).toEqual([
      "confirm",
      "to confirm",
      "double",
    ])
    const lost = claim({ status: "not understood", verdict: "unread" })
    expect([fateOf(lost), markOf(lost).bar]).toEqual(["not understood", "dotted"])
  })
  it("is to be fixed unless it holds or is likely", () => {
    expect(["holds", "likely"].map((verdict) => fateOf(claim({ verdict })))).toEqual([
      "holds",
      "holds",
    ])
    for (const verdict of ["overstated", "understated", "backwards", "within noise", "untested"])
      expect(fateOf(claim({ verdict }))).toBe("fix")
  })
  it("calls a sameness that is not so what it is, and marks it as wrong", () => {
    const wrong = claim({ verdict: "understated", shown: "not the same" })
    expect([fateOf(wrong), wordOf(wrong), markOf(wrong).bar]).toEqual([
      "fix",
      "not the same",
      "accent",
    ])
  })
  it("marks the worst of a line", () => {
    const order = ["holds", "likely", "understated", "within noise", "overstated", "backwards"]
    const weights = order.map((verdict) => markOf(claim({ verdict })).weight)
    expect(weights).toEqual([...weights].sort((a, b) => a - b))
  })
})

describe("the head of the script", () => {
  const check = (more: Partial<Schemas["ScriptCheck"]>): Schemas["ScriptCheck"] => ({
    sentences: 0,
    claims: [],
    plain: [],
    english: true,
    ...more,
  })
  it.each([
    [[], 0, "Nothing written yet."],
    [[], 3, "Nothing here claims anything."],
    [["holds"], 3, "The one claim holds."],
    [["holds", "likely"], 3, "All 2 claims hold."],
    [["holds", "overstated"], 3, "1 line to check before you record."],
  ])("says what is to be done: %s of %i sentences", (verdicts, sentences, said) => {
    const claims = verdicts.map((verdict) => claim({ verdict }))
    show(<ScriptHead check={check({ claims, sentences })} />)
    expect(screen.getByRole("heading", { level: 2 }).textContent).toBe(said)
  })
  it("counts by outcome, and says so where it reads no English", () => {
    const claims = [
      claim({ status: "confirm" }),
      claim({ verdict: "backwards" }),
      claim({ verdict: "backwards" }),
    ]
    show(<ScriptHead check={check({ claims, sentences: 9, english: false })} />)
    const counts = within(screen.getByRole("list", { name: "Claims by outcome" }))
    expect(counts.getAllByRole("listitem").map((each) => each.textContent)).toEqual([
      "2 to fix",
      "1 to confirm",
    ])
    expect(screen.getByText(/does not read like English/)).toBeTruthy()
  })
})

describe("the parts of a claim", () => {
  const asked = claim({ status: "confirm", verdict: "asked", readings: [reading()] })
  it("sends what was read, once a person says yes", async () => {
    const sent = serve({ ...SERVED, [`PUT ${BASE}/script/answers`]: { text: "" } })
    const done = vi.fn()
    show(<ReadingChips slug="s" claim={asked} onDone={done} />)
    await tasksThere()
    await userEvent.click(screen.getByRole("button", { name: "Yes, check it" }))
    await waitFor(() => expect(done).toHaveBeenCalled())
    const answer = sent.find((each) => each.path.endsWith("/script/answers"))
    expect(answer?.body).toEqual({
      key: asked.key,
      text: asked.text,
      claims: [
        {
          says: "saves",
          a: "b",
          b: "a",
          task: "t",
          number: "5:00",
          high: null,
          hedge: "none",
          denied: false,
        },
      ],
    })
  })
  it("leaves away what the changed claim has no room for", async () => {
    const sent = serve({ ...SERVED, [`PUT ${BASE}/script/answers`]: { text: "" } })
    show(<ReadingChips slug="s" claim={asked} />)
    await tasksThere()
    await userEvent.selectOptions(screen.getByLabelText("What is said"), "cheapest")
    expect(screen.queryByLabelText("Number")).toBeNull()
    expect(screen.queryByLabelText("Compared with")).toBeNull()
    expect(screen.queryByLabelText("Task")).toBeNull()
    await userEvent.click(screen.getByRole("button", { name: "Yes, check it" }))
    await waitFor(() => expect(sent.some((each) => each.method === "PUT")).toBe(true))
    const answer = sent.find((each) => each.method === "PUT")?.body as Schemas["SentenceAnswer"]
    expect(answer.claims?.[0]).toMatchObject({
      says: "cheapest",
      b: null,
      task: null,
      number: null,
    })
  })
  it("asks out of how many a count is, and to where a range goes", async () => {
    serve(SERVED)
    show(
      <ReadingChips
        slug="s"
        claim={claim({ readings: [reading({ says: "wins", number: "3", high: "5" })] })}
      />,
    )
    expect(screen.getByLabelText("Out of")).toHaveProperty("value", "5")
    await userEvent.selectOptions(screen.getByLabelText("What is said"), "percent faster")
    expect(screen.getByLabelText("Up to")).toHaveProperty("value", "5")
  })
  it("offers no task that is only looked at, and asks for a machine that is not known", async () => {
    serve(SERVED)
    show(<ReadingChips slug="s" claim={claim({ readings: [reading({ a: null })] })} />)
    await tasksThere()
    expect(screen.queryByRole("option", { name: "Looked at" })).toBeNull()
    expect(screen.getByLabelText("Machine")).toHaveProperty("value", "")
    expect(screen.getByRole("option", { name: "which machine?" })).toBeTruthy()
  })
  it("says what is wrong with a part, and keeps what was chosen", async () => {
    const no = refusal(422, "Type a time, such as 4:45 or 12 s.", { field: "claims.0.number" })
    serve({ ...SERVED, [`PUT ${BASE}/script/answers`]: no })
    show(<ReadingChips slug="s" claim={asked} />)
    await userEvent.clear(screen.getByLabelText("Number"))
    await userEvent.type(screen.getByLabelText("Number"), "soon{Enter}")
    expect(await screen.findByText(/Type a time/)).toBeTruthy()
    expect(screen.getByLabelText("Number")).toHaveProperty("value", "soon")
  })
  it("says that a sentence claims nothing in one click", async () => {
    const sent = serve({ ...SERVED, [`PUT ${BASE}/script/answers`]: { text: "" } })
    show(<ReadingChips slug="s" claim={asked} />)
    await userEvent.click(screen.getByRole("button", { name: "Not a claim" }))
    await waitFor(() => expect(sent.some((each) => each.method === "PUT")).toBe(true))
    expect(sent.find((each) => each.method === "PUT")?.body).toMatchObject({ claims: [] })
  })
})

describe("the script's margin", () => {
  it("says of a machine's name that claims nothing that it was not checked", () => {
    const plain = [
      { line: 1, text: "Hello.", key: "Hello.", said: false, named: false },
      { line: 2, text: "B came late.", key: "B came late.", said: false, named: true },
      { line: 3, text: "B is nice.", key: "B is nice.", said: true, named: true },
    ]
    const text = "Hello.\nB came late.\nB is nice.\nB wins."
    const claims = [claim({ line: 4 })]
    show(
      <ScriptDesk text={text} claims={claims} plain={plain} onText={vi.fn()} onAccept={vi.fn()} />,
    )
    expect(screen.getAllByText("not checked")).toHaveLength(1)
    expect(screen.getByText("not checked").parentElement?.textContent).toContain("B came late.")
    expect(screen.getByText("holds").parentElement?.textContent).toContain("B wins.")
  })
})

describe("what claims nothing, and what was learnt", () => {
  it("can be checked after all only where a person said so", async () => {
    const sent = serve({ ...SERVED, [`PUT ${BASE}/script/answers`]: { text: "" } })
    const lines = [
      { line: 1, text: "Hello.", key: "Hello.", said: false, named: false },
      { line: 2, text: "B is nice.", key: "B is nice.", said: true, named: true },
    ]
    show(<PlainLines slug="s" lines={lines} />)
    expect(screen.getByText("2 sentences claim nothing")).toBeTruthy()
    const buttons = screen.getAllByText("Check it after all")
    expect(buttons).toHaveLength(1)
    await userEvent.click(buttons[0] as HTMLElement)
    await waitFor(() => expect(sent.some((each) => each.method === "PUT")).toBe(true))
    expect(sent.find((each) => each.method === "PUT")?.body).toEqual({
      key: "B is nice.",
      text: "B is nice.",
      claims: null,
    })
  })
  it("is listed with its meaning and can be forgotten", async () => {
    const sent = serve({ ...SERVED, [`POST ${BASE}/script/phrasings/forget`]: { text: "" } })
    const learnt = [{ pattern: "A laps B on T", says: "A is 2 times as fast as B" }]
    show(<LearntPhrasings slug="s" learnt={learnt} />)
    expect(screen.getByText("is read as A is 2 times as fast as B")).toBeTruthy()
    await userEvent.click(screen.getByLabelText("Forget A laps B on T"))
    await waitFor(() => expect(sent.some((each) => each.method === "POST")).toBe(true))
    expect(sent.find((each) => each.method === "POST")?.body).toEqual({ pattern: "A laps B on T" })
  })
})

describe("the web folder", () => {
  const link = () => screen.queryByText("Save as a web folder")?.getAttribute("href") ?? null
  it("is had with its address and whether it may be listed", async () => {
    show(<WebFolder slug="s" />)
    expect(link()).toBe(`${BASE}/public/folder.zip?address=&listed=no`)
    await userEvent.type(screen.getByRole("textbox"), "https://example.org/films/")
    await userEvent.click(screen.getByRole("checkbox"))
    expect(link()).toContain("address=https%3A%2F%2Fexample.org%2Ffilms%2F&listed=yes")
  })
  it("is not had with an address that is none", async () => {
    show(<WebFolder slug="s" />)
    await userEvent.type(screen.getByRole("textbox"), "films")
    expect(link()).toBeNull()
    expect(screen.getByRole("alert").textContent).toContain("https://example.org/films/")
  })
})

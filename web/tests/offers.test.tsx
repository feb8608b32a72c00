import { fireEvent, screen, waitFor } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { useState } from "react"
import { describe, expect, it, vi } from "vitest"
import { OfferList } from "../src/parts/OfferList"
import { useOffers } from "../src/parts/useOffers"
import { EntryLine } from "../src/stages/runs/EntryLine"
import { serve, show } from "./helpers"

const ALL = ["Halyard S", "Halyard L", "Tarn Desk"].map((words) => ({ words, kind: "machine" }))

function Box({ onTake }: { onTake: (words: string) => void }) {
  const [text, setText] = useState("")
  const found = ALL.filter(({ words }) => words.toLowerCase().includes(text))
  const offers = useOffers({
    offers: found,
    text,
    open: text !== "",
    onType: setText,
    onTake: (place) => onTake(found[place]?.words ?? "nothing"),
  })
  return (
    <>
      <input {...offers.field({ "aria-label": "Find" })} />
      <OfferList of={offers} label="Found" offers={found} open={text !== ""} className="" />
    </>
  )
}

const chosen = () =>
  screen.getAllByRole("option").map((option) => option.getAttribute("aria-selected"))

describe("a field that offers names", () => {
  it("says what it is, and what is highlighted, to every voice", async () => {
    show(<Box onTake={vi.fn()} />)
    const field = screen.getByRole("combobox", { name: "Find" })
    expect(field.getAttribute("aria-expanded")).toBe("false")
    await userEvent.type(field, "hal")
    expect(field.getAttribute("aria-expanded")).toBe("true")
    expect(screen.getByRole("listbox", { name: "Found" })).toBeTruthy()
    expect(chosen()).toEqual(["true", "false"])
    await userEvent.keyboard("{ArrowDown}")
    expect(chosen()).toEqual(["false", "true"])
    const option = screen.getByRole("option", { name: /Halyard L/ })
    expect(field.getAttribute("aria-activedescendant")).toBe(option.id)
  })
  it("takes what is highlighted by Enter, and what is pressed by a click", async () => {
    const take = vi.fn()
    show(<Box onTake={take} />)
    await userEvent.type(screen.getByRole("combobox"), "hal{ArrowDown}{Enter}")
    expect(take).toHaveBeenLastCalledWith("Halyard L")
    await userEvent.click(screen.getByRole("option", { name: /Halyard S/ }))
    expect(take).toHaveBeenLastCalledWith("Halyard S")
  })
  it("begins at the first offer once something else is typed", async () => {
    show(<Box onTake={vi.fn()} />)
    await userEvent.type(screen.getByRole("combobox"), "hal{ArrowDown}y")
    expect(chosen()).toEqual(["true", "false"])
  })
  it("leaves Escape, Home and End to the page and the text", async () => {
    show(<Box onTake={vi.fn()} />)
    const field = screen.getByRole("combobox") as HTMLInputElement
    await userEvent.type(field, "hal{ArrowDown}")
    for (const key of ["Escape", "Home", "End"]) {
      expect(fireEvent.keyDown(field, { key })).toBe(true)
    }
    expect(field.value).toBe("hal")
    expect(chosen()).toEqual(["false", "true"])
  })
  it("says so where nothing fits", async () => {
    show(<Box onTake={vi.fn()} />)
    await userEvent.type(screen.getByRole("combobox"), "oak")
    expect(screen.queryAllByRole("option")).toEqual([])
    expect(screen.getByText("Nothing is called that.")).toBeTruthy()
  })
})

const READING = {
  setup: null,
  task: null,
  setup_id: null,
  task_id: null,
  round_id: null,
  round: "autumn",
  typed: "",
  method: "stopwatch",
  status: "ok",
  reason: "",
  stem: "",
  ready: false,
  missing: "setup",
  problem: null,
  meanings: [],
  unknown_setup: null,
  unknown_task: null,
  value_words: null,
  ratio: null,
  against: null,
  against_id: null,
  source: "",
  asked: null,
  ways: [],
  completions: [
    { name: "Halyard S", line: "Halyard S / " },
    { name: "Halyard L", line: "Halyard L / " },
  ],
}

describe("the entry line", () => {
  it("takes an offer by Tab and stores nothing by it", async () => {
    const asked = serve({ "POST /api/v1/shootouts/here/entry": READING })
    show(<EntryLine slug="here" undone={0} onStored={vi.fn()} />)
    const field = screen.getByRole("combobox") as HTMLInputElement
    await userEvent.type(field, "hal")
    await waitFor(() => expect(screen.getAllByRole("option")).toHaveLength(2))
    await userEvent.keyboard("{ArrowDown}{Tab}")
    expect(field.value).toBe("Halyard L / ")
    expect(document.activeElement).toBe(field)
    expect(asked.every(({ path }) => path.endsWith("/entry"))).toBe(true)
  })
  it("stores by Enter once the line is whole", async () => {
    const ready = {
      ...READING,
      setup_id: "s",
      task_id: "t",
      typed: "6:17",
      ready: true,
      missing: null,
      completions: [],
      stem: "Halyard S / Parade / ",
    }
    const stored = { run: { id: "r", version: 1 }, says: "Run 1: 6:17.", changes: [] }
    const asked = serve({
      "POST /api/v1/shootouts/here/entry": ready,
      "POST /api/v1/shootouts/here/runs": stored,
    })
    const told = vi.fn()
    show(<EntryLine slug="here" undone={0} onStored={told} />)
    const field = screen.getByRole("combobox") as HTMLInputElement
    fireEvent.change(field, { target: { value: "halyard s / parade / 6:17" } })
    await userEvent.type(field, "{Enter}")
    await waitFor(() => expect(told).toHaveBeenCalledOnce())
    const sent = asked.find(({ path }) => path.endsWith("/runs"))
    expect(sent?.body).toMatchObject({ setup_id: "s", task_id: "t", typed: "6:17", status: "ok" })
    expect(field.value).toBe("Halyard S / Parade / ")
  })
})

describe("a line that must be asked about", () => {
  it("puts the first answer under the hand", async () => {
    const meanings = [
      { meaning: "clock", value_s: 1120, words: "18:40" },
      { meaning: "decimal", value_s: 1104, words: "18:24" },
    ]
    const unclear = { ...READING, typed: "18.40 min", completions: [], missing: null, meanings }
    serve({ "POST /api/v1/shootouts/here/entry": unclear })
    show(<EntryLine slug="here" undone={0} onStored={vi.fn()} />)
    await userEvent.type(screen.getByRole("combobox"), "a / parade / 18.40 min{Enter}")
    const first = await screen.findByRole("button", { name: /18:40/ })
    await waitFor(() => expect(document.activeElement).toBe(first))
  })
})

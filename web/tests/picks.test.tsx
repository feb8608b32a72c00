import { fireEvent, screen } from "@testing-library/react"
import { describe, expect, it, vi } from "vitest"
import { Answer } from "../src/stages/picks/Answer"
import { changesOf, type Draft } from "../src/stages/picks/draft"
import { FlipScales } from "../src/stages/picks/FlipScales"
import { PriceSpeed } from "../src/stages/picks/PriceSpeed"
import { pickRow, pickView, show } from "./helpers"

const draft: Draft = {
  weekly: true,
  rule: "fastest",
  currency: "EUR",
  region: null,
  tax_percent: null,
  budget: "1500",
  owned_setup_id: null,
  resale: "0",
  hour_value: "22",
  attended: 0.5,
  weeks: 48,
  horizon_years: 3,
  energy_price: null,
  needs: [],
  tasks: [],
}
const placeOf = () => 0
const picked = {
  setup_id: "b",
  label: "B",
  keep: false,
  price: "940",
  prob_best: 0.83,
  what: "B; the small one, 940 EUR",
  reason: "Nothing under 1,500 EUR is more than 3 % faster at this work.",
  surety: "Likely (83 %)",
  sentence: "not taken apart",
  level: null,
  second: null,
  second_id: null,
  caution: null,
}

describe("the answer", () => {
  const view = pickView(
    [
      pickRow("b"),
      pickRow("c", { open: false, out: "need", why: "needs 32 GB: has 16 GB" }),
      pickRow("d", { open: false, out: "budget", why: "over the budget of 1 500 EUR" }),
      pickRow("e", { open: false, out: "budget", why: "over the budget of 1 500 EUR" }),
    ],
    { picked },
  )
  const answer = () =>
    show(
      <Answer
        view={view}
        draft={draft}
        stale={false}
        placeOf={placeOf}
        onRule={vi.fn()}
        onTry={vi.fn()}
      />,
    )
  it("says what to do apart from how sure that is, whatever a name holds", () => {
    answer()
    expect(screen.getByText(`${picked.what}.`).className).toContain("text-accent")
    expect(screen.getByText(picked.reason)).toBeTruthy()
    expect(screen.getByText(picked.surety)).toBeTruthy()
  })
  it("tells those that miss a need one by one, the others by what they share", () => {
    answer()
    const out = screen.getByRole("list", { name: "Out" })
    expect([...out.children].map((line) => line.textContent)).toEqual([
      "C is out: needs 32 GB: has 16 GB.",
      "D, E: over the budget of 1 500 EUR.",
    ])
  })
})

describe("a price that is tried", () => {
  const flip = {
    price: "930",
    lo: "900",
    hi: "960",
    bounded: false,
    endless: false,
    words: "wins up to 930 EUR",
    short: "wins to 930",
  }
  it("is that of the setup whose handle moves, as the hand sets it", () => {
    const onTry = vi.fn()
    const row = pickRow("b", { flip })
    show(<FlipScales view={pickView([row])} placeOf={placeOf} onTry={onTry} />)
    const handle = screen.getByRole("slider", { name: "Price of B" })
    expect(handle.getAttribute("aria-valuetext")).toBe("1,000 EUR; wins up to 930 EUR")
    expect(screen.getByText("wins to 930")).toBeTruthy()
    fireEvent.change(handle, { target: { value: "920" } })
    expect(onTry).toHaveBeenCalledWith(row, 920)
  })
  it("follows the pointer while a mark is drawn along, and not after", () => {
    Element.prototype.setPointerCapture = vi.fn()
    const onTry = vi.fn()
    const view = pickView([pickRow("b"), pickRow("a", { keep: true })])
    const { container } = show(
      <PriceSpeed view={view} budget={1500} placeOf={placeOf} onTry={onTry} />,
    )
    const mark = container.querySelector('[data-setup="B"]') as Element
    fireEvent.pointerMove(mark, { clientX: 200 })
    expect(onTry).not.toHaveBeenCalled()
    fireEvent.pointerDown(mark, { pointerId: 1 })
    fireEvent.pointerMove(mark, { clientX: 200 })
    expect(onTry).toHaveBeenCalledTimes(1)
    expect(onTry.mock.calls[0]?.[1] % 10).toBe(0)
    fireEvent.pointerUp(mark)
    fireEvent.pointerMove(mark, { clientX: 300 })
    expect(onTry).toHaveBeenCalledTimes(1)
  })
})

describe("what was changed of a viewer", () => {
  it("is what is sent, and a task that counts for nothing is as good as none", () => {
    const part = { task_id: "t", weight: 0, amount: 0, by_run: false, accepted_s: null }
    expect(changesOf(draft, { ...draft, tasks: [part] })).toEqual({})
    expect(changesOf(draft, { ...draft, budget: "900" })).toEqual({ budget: "900" })
  })
})

import { render, screen } from "@testing-library/react"
import { describe, expect, it } from "vitest"
import type { Schemas } from "../src/api/client"
import { Announcer } from "../src/reach/Announcer"
import { useChangedResults } from "../src/stages/margins/useChangedResults"

const said = () => screen.getByRole("status").textContent ?? ""

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

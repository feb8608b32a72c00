import { scaleLog } from "d3-scale"
import { expect, test } from "vitest"
import type { Schemas } from "../src/api/client"
import { axisTicks, spreadLabels, timeLayout } from "../src/stages/alltime/layout"

test("labels stay where they belong as long as they have room", () => {
  expect(spreadLabels([10, 60, 200], 20)).toEqual([10, 60, 200])
  expect(spreadLabels([], 20)).toEqual([])
})

test("labels that touch are moved apart, around the middle of what they want", () => {
  expect(spreadLabels([100, 100, 100], 20)).toEqual([80, 100, 120])
  const found = spreadLabels([50, 52, 300, 51], 20)
  const sorted = [...found].sort((a, b) => a - b)
  for (let at = 1; at < sorted.length; at++)
    expect((sorted[at] ?? 0) - (sorted[at - 1] ?? 0)).toBeGreaterThanOrEqual(20)
  // Nobody passes anybody.
  expect(found[0]).toBeLessThan(found[3] ?? 0)
  expect(found[3]).toBeLessThan(found[1] ?? 0)
})

test("marks of the axis are round times, inside of it, and far enough apart", () => {
  const y = scaleLog().domain([200, 1400]).range([0, 400])
  const ticks = axisTicks(true, y)
  expect(ticks).toContain(240)
  expect(ticks.every((tick) => tick >= 200 && tick <= 1400)).toBe(true)
  for (let at = 1; at < ticks.length; at++)
    expect(y(ticks[at] ?? 1) - y(ticks[at - 1] ?? 1)).toBeGreaterThanOrEqual(34)
  const points = scaleLog().domain([9000, 1000]).range([0, 400])
  expect(axisTicks(false, points)).toEqual([1000, 1500, 2000, 3000, 4000, 6000, 8000])
})

function line(label: string, value: number | null, column: number): Schemas["MachineLine"] {
  return {
    machine_id: label,
    label,
    mark: 0,
    in_hand: true,
    points: [{ column, value: value ?? 1, shown: "", runs: 2 }],
    value,
    lo: value,
    hi: value,
    shown: "",
    range: "",
    ranks: [1, 1],
    carried: 0,
    timed_in: "",
  }
}

test("the best stands at the top, whether less or more is better", () => {
  const versions = [
    { name: "1", since: null },
    { name: "2", since: null },
  ]
  const view = (measure: string): Schemas["AllTimeView"] => ({
    id: "",
    name: "",
    app: "",
    measure,
    unit: null,
    headline: "",
    sentence: "",
    versions,
    lines: [line("small", 100, 1), line("large", 400, 0), line("nowhere", null, 0)],
    steps: [],
    best: [],
    weakest: null,
    uneven: null,
    left_out: [],
    next: null,
    confidence: 0.95,
  })
  const time = timeLayout(view("time"), 800)
  expect(time.ranked.map((each) => each.label)).toEqual(["small", "large"])
  expect(time.y(100)).toBeLessThan(time.y(400))
  expect(time.x(0)).toBeLessThan(time.x(1))
  const amount = timeLayout(view("amount"), 800)
  expect(amount.y(400)).toBeLessThan(amount.y(100))
})

import { describe, expect, it } from "vitest"
import { fitScale } from "../src/parts/rule/scale"
import {
  BOTTOM,
  fieldOf,
  LEFT,
  mostOf,
  namesOf,
  pricedRows,
  RIGHT,
  stepsOf,
  TOP,
} from "../src/stages/picks/priceField"
import { money } from "../src/theme/format"
import { pickRow } from "./helpers"

describe("the rule's scale", () => {
  it.each([[[0.5, 2]], [[1.01, 1.04]], [[0.02, 40]], [[]], [[null, 3, Number.NaN, -1, 0]]])(
    "of %j has 1x in view and everything on it",
    (ratios) => {
      const scale = fitScale(ratios)
      const known = ratios.filter((r): r is number => r !== null && r > 0)
      for (const ratio of [1, ...known]) {
        expect(scale.at(ratio)).toBeGreaterThanOrEqual(0)
        expect(scale.at(ratio)).toBeLessThanOrEqual(1)
      }
      expect(scale.ticks).toContain(1)
    },
  )
  it("is logarithmic: twice is as far from once as once from half", () => {
    const scale = fitScale([0.5, 2])
    expect(scale.at(2) - scale.at(1)).toBeCloseTo(scale.at(1) - scale.at(0.5), 12)
  })
  it("labels ratios that stand clear of each other", () => {
    const { ticks, at } = fitScale([1, 1.18], 5)
    const gaps = ticks.slice(1).map((tick, place) => at(tick) - at(ticks[place] ?? 1))
    expect(Math.min(...gaps)).toBeGreaterThanOrEqual(1 / 5 - 1e-9)
  })
})

const price = (amount: string | null) => ({ ...pickRow("x").price, amount })
const rows = pricedRows([
  pickRow("a", { price: price("300"), ratio: 1, lo: 1, hi: 1, keep: true }),
  pickRow("b", { price: price("940"), ratio: 1.8, lo: 1.75, hi: 1.85 }),
  pickRow("c", { price: price("950"), ratio: 1.79, lo: 1.74, hi: 1.84, frontier: false }),
  pickRow("d", { price: price(null) }),
])

describe("the field of price against speed", () => {
  const field = fieldOf(rows, mostOf(rows, 1500), 470)
  it("leaves out what has no price, and shows the budget", () => {
    expect(rows.map((row) => [row.label, row.amount])).toEqual([
      ["A", 300],
      ["B", 940],
      ["C", 950],
    ])
    expect(field.most).toBe(1.08 * 1500)
  })
  it("puts dearer to the right, faster higher, all inside", () => {
    expect(field.x(0)).toBe(LEFT)
    expect(field.x(field.most)).toBe(470 - RIGHT)
    expect(field.y(1.8)).toBeLessThan(field.y(1))
    for (const row of rows) {
      expect(field.y(row.hi)).toBeGreaterThanOrEqual(TOP)
      expect(field.y(row.lo)).toBeLessThanOrEqual(BOTTOM)
    }
  })
  it("reads a price off a pixel, to the nearest ten and never below nothing", () => {
    expect(field.priceAt(field.x(942))).toBe(940)
    expect(field.priceAt(0)).toBe(0)
  })
  it("steps along the frontier only, from the cheapest", () => {
    const steps = stepsOf(rows, field)
    expect(steps.match(/H/g)).toHaveLength(1)
    expect(steps.startsWith(`M${field.x(300)} ${BOTTOM} V`)).toBe(true)
  })
  it("sets names apart where marks crowd", () => {
    const names = namesOf(rows, field)
    expect(names.map((name) => name.label).sort()).toEqual(["B", "C", "keep A"])
    const [b, c] = ["b", "c"].map((id) => names.find((name) => name.id === id))
    const apart =
      Math.abs((b?.y ?? 0) - (c?.y ?? 0)) >= 13 || Math.abs((b?.x ?? 0) - (c?.x ?? 0)) > 8
    expect(apart).toBe(true)
  })
})

describe("money", () => {
  it.each([
    ["1290.00", "1,290"],
    ["1290.50", "1,290.50"],
    ["1500.000", "1,500"],
    ["1.234", "1.234"],
    [939.99, "939.99"],
  ])("%s is written %s", (amount, written) => {
    expect(money(amount)).toBe(written)
  })
})

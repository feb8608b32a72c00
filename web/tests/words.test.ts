import { describe, expect, it } from "vitest"
import type { Schemas } from "../src/api/client"
import { byGroup, isShown, namedSpecs, type Row, shownValue } from "../src/stages/lineup/specs"
import {
  type Draft,
  draftOf,
  type Part,
  partOf,
  plainMoney,
  sharesOf,
  type Viewer,
  withPart,
  withShare,
} from "../src/stages/picks/draft"
import { askable } from "../src/stages/picks/needs"
import {
  endOf,
  type PickTask,
  readClock,
  recount,
  unitOf,
  unitsOf,
} from "../src/stages/picks/units"
import { EVERYTHING, flatRows, groupRuns } from "../src/stages/runs/cells"
import { changesJob, presetOver, readWork, type Sheet } from "../src/stages/tasks/job"
import {
  clock,
  compact,
  count,
  keptClock,
  MISSING,
  percent,
  plain,
  plainNumber,
  ratio,
  readNumber,
  runValue,
  seconds,
} from "../src/theme/format"

describe("a time", () => {
  it.each([
    [0, 1, "0:00"],
    [59.6, 1, "1:00"],
    [272, 1, "4:32"],
    [3661, 1, "1:01:01"],
    [272.345, 0.01, "4:32.35"],
    [272.3, 0.1, "4:32.3"],
    [-5, 1, "−0:05"],
    [-0.2, 1, "0:00"],
    [1.23456, 1e-6, "0:01.235"],
    [null, 1, MISSING],
  ])("of %s s read to %s s is %s", (value, resolution, written) => {
    expect(clock(value, resolution)).toBe(written)
  })
  it("is kept with a point whoever reads it", () => {
    expect(keptClock(272.345, 0.01)).toBe("4:32.35")
  })
  it.each([
    [9.94, "+9.9 s"],
    [42.4, "+42 s"],
    [-42.4, "−42 s"],
    [754, "+12:34"],
  ])("saved, %s s, is %s", (value, written) => {
    expect(seconds(value)).toBe(written)
  })
  it("of a run says whether it is a bound or from memory", () => {
    const run = { value: 272, resolution: 1, bound: null as string | null, approximate: false }
    expect(runValue(run, "time")).toBe("4:32")
    expect(runValue({ ...run, bound: ">" }, "time")).toBe("> 4:32")
    expect(runValue({ ...run, approximate: true }, "time")).toBe("~4:32")
    expect(runValue({ ...run, value: 1234.5678 }, "amount")).toBe("1235")
    expect(runValue({ ...run, value: null }, "time")).toBe(MISSING)
  })
})

describe("a number", () => {
  it("is read as it is typed, in either way of writing", () => {
    expect(readNumber("1 500,5")).toBe(1500.5)
    expect(readNumber("1500.5")).toBe(1500.5)
    expect(readNumber("-3")).toBe(-3)
    expect(readNumber("12 euro")).toBeNull()
  })
  it("that may be two numbers is none", () => {
    expect(plainNumber("1,499")).toBeNull()
    expect(plainNumber("1,499.00")).toBe("1499.00")
    expect(plainNumber("12,345,678.9")).toBe("12345678.9")
    expect(plainNumber("1,49")).toBe("1.49")
  })
  it("keeps every digit of what was typed", () => {
    expect(plainNumber("0.10000000000000000001")).toBe("0.10000000000000000001")
  })
  it("that is a ratio has two decimals", () => {
    expect([ratio(1.503), ratio(1.0049), ratio(null)]).toEqual(["1.50", "1.00", MISSING])
  })
  it("is as short as it may be, with a true minus sign", () => {
    expect([compact(1234.56), compact(0.5), compact(-2)]).toEqual(["1235", "0.5", "−2"])
    expect([plain(2.345, 1), plain(undefined)]).toEqual(["2.3", MISSING])
    expect([percent(0.125), percent(0.5)]).toEqual(["12.5 %", "50 %"])
    expect([count(1, "run"), count(0, "run"), count(3, "run")]).toEqual([
      "1 run",
      "0 runs",
      "3 runs",
    ])
  })
})

const draft = { tasks: [] as Part[], needs: [] } as unknown as Draft
const IDS = ["a", "b", "c"]
const mixed = (weights: number[]) =>
  weights.reduce((next, weight, at) => withPart(next, IDS[at] ?? "", { weight }), draft)

describe("a viewer's mix", () => {
  it("counts a task that was never mentioned as nothing", () => {
    expect(partOf(draft, "a")).toMatchObject({ weight: 0, amount: 0, accepted_s: null })
    expect([...sharesOf(draft, IDS).values()]).toEqual([0, 0, 0])
  })
  it("gives shares that sum to one", () => {
    expect([...sharesOf(mixed([1, 1, 2]), IDS).values()]).toEqual([0.25, 0.25, 0.5])
  })
  it("keeps the others' proportions where one is moved", () => {
    const moved = sharesOf(withShare(mixed([1, 1, 2]), IDS, "a", 0.7), IDS)
    const [a, b, c] = IDS.map((id) => moved.get(id) ?? 0)
    expect(a).toBeCloseTo(0.7, 12)
    expect(b).toBeCloseTo(0.1, 12)
    expect(c).toBeCloseTo(0.2, 12)
  })
  it("shares the rest alike where the others had nothing", () => {
    const moved = sharesOf(withShare(mixed([1, 0, 0]), IDS, "a", 0.5), IDS)
    expect(IDS.map((id) => moved.get(id))).toEqual([0.5, 0.25, 0.25])
  })
  it("of one task is all of it", () => {
    expect(sharesOf(withShare(mixed([1]), ["a"], "a", 0.2), ["a"]).get("a")).toBe(1)
  })
})

describe("a stored viewer", () => {
  it("is tried as it would be typed", () => {
    const viewer = {
      weekly: true,
      rule: "worth",
      currency: "EUR",
      region: null,
      tax_percent: "19.00",
      budget: null,
      owned_setup_id: "a",
      resale: "100.000",
      hour_value: "40.50",
      attended: 0.5,
      weeks: 46,
      horizon_years: 3,
      energy_price: null,
      needs: [
        { about: "ports", relation: "includes", value: ["card reader", "network"] },
        { about: "fan", relation: "is", value: false },
      ],
      tasks: undefined,
    } as unknown as Viewer
    const tried = draftOf(viewer)
    expect(tried).toMatchObject({ tax_percent: "19", budget: null, resale: "100", tasks: [] })
    expect(tried.hour_value).toBe("40.5")
    expect(tried.needs.map((need) => need.value)).toEqual(["card reader, network", "no"])
  })
  it("has no more zeros than were meant", () => {
    expect(["1500.000", "1500", "0.50", 12].map(plainMoney)).toEqual(["1500", "1500", "0.5", "12"])
  })
})

describe("weekly work", () => {
  const film: PickTask = { id: "a", name: "Long", measure: "time", work: 660, unit: "s" }
  const photos: PickTask = { ...film, work: 260, unit: "photos" }
  const nothing: PickTask = { ...film, work: null, unit: null }
  const part = partOf(draft, "a")
  it("is counted in what the task is made of, or in times", () => {
    expect(unitOf(film, part)).toEqual({ name: "min of video", size: 60 })
    expect(unitOf(photos, part)).toEqual({ name: "photos", size: 1 })
    expect(unitOf(photos, { ...part, by_run: true }).name).toBe("times")
    expect(unitsOf(nothing)).toEqual([{ by_run: true, name: "times" }])
    expect(unitsOf(film).map((unit) => unit.name)).toEqual(["min of video", "times"])
  })
  it("stays the same work in another unit", () => {
    const weekly = { ...part, amount: 1320 }
    expect(recount(film, weekly, true)).toEqual({ by_run: true, amount: 2 })
    expect(recount(film, { ...weekly, by_run: true, amount: 2 }, false).amount).toBe(1320)
    expect(recount(nothing, weekly, true)).toEqual({ by_run: true })
  })
  it("takes a time with a colon, and nothing that looks like one", () => {
    expect(["5:00", "1:05:00", " 0:30 "].map(readClock)).toEqual([300, 3900, 30])
    expect(["5", "5:60", "1:5", "", "a:10"].map(readClock)).toEqual([null, null, null, null, null])
  })
  it("has a slider that ends at a round number above", () => {
    expect([endOf(100, 10), endOf(0, 60), endOf(13, 1)]).toEqual([300, 60, 40])
  })
})

describe("what a viewer may need", () => {
  it("is asked for as the row is read", () => {
    const row = (field: string, kind: string) =>
      ({ field, kind, title: field, choices: [], unit: null }) as unknown as Schemas["SpecRow"]
    const asked = askable([
      row("memory_gb", "number"),
      row("noise", "number"),
      row("fan", "yes or no"),
    ])
    const of = (about: string) => asked.find((each) => each.about === about)
    expect(of("memory_gb")?.relations).toEqual(["at least", "at most", "is"])
    expect(of("noise")?.relations).toEqual(["at most"])
    expect(of("fan")?.choices).toEqual(["yes", "no"])
    expect(of("failures")?.relations).toEqual(["none"])
  })
  it("is never the worst there is", () => {
    const words = askable([]).flatMap((each) => each.choices)
    expect(words).not.toContain("unusable")
    expect(words.length).toBeGreaterThan(0)
  })
})

const named = <Kind>(id: string) => ({ id, name: id }) as Kind
const run = (setup: string, more: object = {}, flags: string[] = []) =>
  ({
    run: {
      setup_id: setup,
      task_id: "render",
      round_id: "first",
      status: "ok",
      value: 60,
      ...more,
    },
    flags,
  }) as unknown as Schemas["FlaggedInBrief"]
const book = (runs: Schemas["FlaggedInBrief"][], drifting: object[] = []) =>
  ({ runs, drifting }) as unknown as Schemas["BookInBrief"]
const grouped = (from: Schemas["BookInBrief"], filter = EVERYTHING) =>
  groupRuns(
    from,
    [named("a"), named("b")],
    [named("render"), named("export")],
    [named("first"), named("second")],
    filter,
  )

describe("the book of runs", () => {
  const runs = [
    run("b", { value: 80 }),
    run("a", { value: 60 }),
    run("a", { value: 900, status: "void" }),
    run("a", { value: null, status: "failed" }, ["heat"]),
    run("a", { value: 62, round_id: "second" }),
  ]
  it("stands by task, setup and round, and leaves out what has no runs", () => {
    const [group, ...others] = grouped(book(runs))
    expect(others).toEqual([])
    expect(group?.cells.map((cell) => [cell.setup.id, cell.round.id, cell.runs.length])).toEqual([
      ["a", "first", 3],
      ["a", "second", 1],
      ["b", "first", 1],
    ])
  })
  it("draws its axis over the runs that count", () => {
    expect(grouped(book(runs))[0]).toMatchObject({ lo: 60, hi: 80 })
  })
  it("is narrowed by setup, by round and by state", () => {
    const kept = (filter: object) =>
      grouped(book(runs), { ...EVERYTHING, ...filter }).flatMap((group) =>
        group.cells.flatMap((cell) => cell.runs),
      )
    expect(kept({ setup: "b" })).toHaveLength(1)
    expect(kept({ round: "second" })).toHaveLength(1)
    expect(kept({ state: "failed" })).toHaveLength(1)
    expect(kept({ state: "flagged" })).toHaveLength(1)
    expect(kept({ task: "export" })).toHaveLength(0)
  })
  it("flags every run of a cell that drifts", () => {
    const drifting = [{ task_id: "render", setup_id: "a", round_id: "first" }]
    const cells = grouped(book(runs, drifting), { ...EVERYTHING, state: "flagged" })[0]?.cells
    expect(cells?.map((cell) => [cell.drifting, cell.runs.length])).toEqual([[true, 3]])
  })
  it("is lines, each task's head before its cells", () => {
    expect(flatRows(grouped(book(runs))).map((row) => row.kind)).toEqual([
      "head",
      "cell",
      "cell",
      "cell",
    ])
  })
})

describe("what a run is a run of", () => {
  const sheet = {
    runs: 3,
    typed: { codec: "blue", depth: "10" },
    task: { operation: "export", app: null },
  } as unknown as Sheet
  it("changes where its settings do, not where its name does", () => {
    expect(changesJob(sheet, { name: "Other" })).toBe(false)
    expect(changesJob(sheet, { operation: "transcode" })).toBe(true)
    expect(changesJob(sheet, { settings: { codec: "blue" } })).toBe(false)
    expect(changesJob(sheet, { settings: { codec: null } })).toBe(true)
    expect(changesJob({ ...sheet, runs: 0 }, { operation: "transcode" })).toBe(false)
  })
  it("is emptied of what a preset leaves out", () => {
    expect(presetOver({ codec: "blue", depth: "10" }, { codec: "red" })).toEqual({
      codec: "red",
      depth: null,
    })
  })
  it("is so much work, with its unit", () => {
    expect(readWork("260 photos")).toEqual({ work: 260, unit: "photos" })
    expect(readWork("660")).toEqual({ work: 660, unit: null })
    expect([readWork("0"), readWork("photos"), readWork("")]).toEqual([null, null, null])
  })
})

describe("the spec sheet", () => {
  const row = (field: string, more: object = {}) =>
    ({ field, group: "parts", filled: true, differs: false, free_row_id: null, ...more }) as Row
  it("shows what says something, what differs, or all there is", () => {
    const rows = [row("a"), row("b", { filled: false }), row("c", { differs: true })]
    const shown = (which: Parameters<typeof isShown>[1]) =>
      rows.filter((each) => isShown(each, which)).map((each) => each.field)
    expect(shown("filled rows")).toEqual(["a", "c"])
    expect(shown("differences")).toEqual(["c"])
    expect(shown("all rows")).toEqual(["a", "b", "c"])
  })
  it("keeps an empty row that somebody added", () => {
    const own = row("own", { filled: false, free_row_id: "x" })
    expect(isShown(own, "filled rows")).toBe(true)
  })
  it("stands under its headings in their order", () => {
    const groups = byGroup([row("a"), row("b", { group: "price" }), row("c")])
    expect(groups.map(([name, rows]) => [name, rows.length])).toEqual([
      ["parts", 2],
      ["price", 1],
    ])
  })
  it("writes a value as it would be typed", () => {
    expect([true, false, null, ["a", "b"], 3].map(shownValue)).toEqual([
      "yes",
      "no",
      "",
      "a, b",
      "3",
    ])
  })
  it("takes the name of the machine that a file was dropped on, and leaves a broken one", () => {
    expect(JSON.parse(namedSpecs('{"name": "x", "cores": 8}', "Amber"))).toEqual({
      name: "Amber",
      cores: 8,
    })
    expect(namedSpecs("{broken", "Amber")).toBe("{broken")
  })
})

/** A planned session as it is worked off. */
import { describe, expect, it } from "vitest"
import type { Schemas } from "../src/api/client"
import { countRuns, doneOf, type PlannedRun, readyOf } from "../src/stages/bench/sitting"

const run = (setup_id: string, task_id: string, more: Partial<PlannedRun> = {}): PlannedRun => ({
  setup_id,
  task_id,
  setup: setup_id,
  task: task_id,
  minutes: 5,
  change_over: false,
  starts_min: 0,
  after_id: null,
  ...more,
})
const made = (setup_id: string, task_id: string, status = "ok") =>
  ({ setup_id, task_id, status }) as Schemas["RunInBrief"]

describe("a planned session", () => {
  const plan = [
    run("mains", "parade"),
    run("mains", "parade"),
    run("battery", "parade", { change_over: true, after_id: "mains" }),
    run("brick", "parade"),
  ]

  it("ticks what was run since, the first of its kind first", () => {
    const before = countRuns([made("mains", "parade"), made("brick", "diary")])
    expect(doneOf(plan, before, before)).toEqual([false, false, false, false])
    const now = countRuns([
      made("mains", "parade"),
      made("mains", "parade"),
      made("brick", "parade", "failed"),
    ])
    expect(doneOf(plan, before, now)).toEqual([true, false, false, true])
  })

  it("does not take a run that does not count for done", () => {
    const now = countRuns([made("mains", "parade", "void")])
    expect(doneOf(plan, {}, now)).toEqual([false, false, false, false])
  })

  it("readies the swapped machine once the one before it is done, whatever others do", () => {
    expect(readyOf(plan, [false, false, false, false])).toEqual([
      ["mains", ["parade", "parade"]],
      ["brick", ["parade"]],
    ])
    expect(readyOf(plan, [true, true, false, false])).toEqual([
      ["battery", ["parade"]],
      ["brick", ["parade"]],
    ])
    expect(readyOf(plan, [true, true, true, true])).toEqual([])
  })
})

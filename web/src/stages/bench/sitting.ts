/** A planned session, as it is worked off: which of its runs are done, and what can be readied. */
import type { Schemas } from "../../api/client"

export type PlannedRun = Schemas["SittingView"]["runs"][number]
/** Attempts of each setup on each task, voids left out. */
export type Counts = Record<string, number>

const cell = (run: { setup_id: string; task_id: string }) => `${run.setup_id} ${run.task_id}`

export function countRuns(runs: readonly Schemas["RunInBrief"][]): Counts {
  const counts: Counts = {}
  for (const run of runs) {
    if (run.status !== "void") counts[cell(run)] = (counts[cell(run)] ?? 0) + 1
  }
  return counts
}

/** For each run of a plan, whether it was made since: the first ones of a cell are done first. */
export function doneOf(runs: readonly PlannedRun[], before: Counts, now: Counts): boolean[] {
  const left: Counts = {}
  return runs.map((run) => {
    const key = cell(run)
    left[key] = (left[key] ?? (now[key] ?? 0) - (before[key] ?? 0)) - 1
    return left[key] >= 0
  })
}

/**
 * Tasks that each setup still has to run, by setup. One that stands only once a machine is
 * swapped waits for all runs of the setup that stands there before it.
 */
export function readyOf(
  runs: readonly PlannedRun[],
  done: readonly boolean[],
): [string, string[]][] {
  const after = new Map<string, string>()
  for (const run of runs) if (run.after_id !== null) after.set(run.setup_id, run.after_id)
  const waits = (setup: string) =>
    runs.some((run, place) => run.setup_id === after.get(setup) && !done[place])
  const bySetup = new Map<string, string[]>()
  for (const [place, run] of runs.entries()) {
    if (done[place] || waits(run.setup_id)) continue
    bySetup.set(run.setup_id, [...(bySetup.get(run.setup_id) ?? []), run.task_id])
  }
  return [...bySetup]
}

import type { Schemas } from "../../api/client"

export type FlaggedRun = Schemas["FlaggedInBrief"]

/** The runs of one setup on one task in one round, in bench order. */
export type Cell = {
  key: string
  setup: Schemas["Setup"]
  round: Schemas["Round"]
  runs: FlaggedRun[]
  drifting: boolean
}

export type TaskGroup = {
  task: Schemas["Task"]
  cells: Cell[]
  /** Ends of the task's values, voids and failures left out. */
  lo: number
  hi: number
}

/** What the book is narrowed to; empty texts narrow nothing. */
export type Filter = { setup: string; task: string; round: string; state: string }

export const EVERYTHING: Filter = { setup: "", task: "", round: "", state: "" }
/** States that runs can be narrowed to. */
export const STATES = ["ok", "void", "failed", "flagged"] as const

/** Whether a run is shown; a drifting cell is flagged as a whole. */
export function isShown({ run, flags }: FlaggedRun, drifting: boolean, filter: Filter): boolean {
  if (filter.setup && run.setup_id !== filter.setup) return false
  if (filter.task && run.task_id !== filter.task) return false
  if (filter.round && run.round_id !== filter.round) return false
  if (filter.state === "flagged") return drifting || flags.length > 0
  return !filter.state || run.status === filter.state
}

/** Groups the book by task, then setup, then round, each in its own order. */
export function groupRuns(
  book: Schemas["BookInBrief"],
  setups: Schemas["Setup"][],
  tasks: Schemas["Task"][],
  rounds: Schemas["Round"][],
  filter: Filter,
): TaskGroup[] {
  const byCell = new Map<string, FlaggedRun[]>()
  for (const each of book.runs) {
    const key = `${each.run.task_id} ${each.run.setup_id} ${each.run.round_id}`
    const known = byCell.get(key)
    if (known) known.push(each)
    else byCell.set(key, [each])
  }
  const drifting = new Set(
    book.drifting.map((cell) => `${cell.task_id} ${cell.setup_id} ${cell.round_id}`),
  )
  const groups = tasks.map((task) => {
    const cells = setups.flatMap((setup) =>
      rounds.flatMap((round) => {
        const key = `${task.id} ${setup.id} ${round.id}`
        const drifts = drifting.has(key)
        const runs = (byCell.get(key) ?? []).filter((each) => isShown(each, drifts, filter))
        if (runs.length === 0) return []
        return [{ key, setup, round, runs, drifting: drifts }]
      }),
    )
    const values = cells
      .flatMap((cell) => cell.runs)
      .flatMap(({ run }) => (run.status === "ok" && run.value !== null ? [run.value] : []))
    return {
      task,
      cells,
      lo: Math.min(...values, Number.POSITIVE_INFINITY),
      hi: Math.max(...values, 0),
    }
  })
  return groups.filter((group) => group.cells.length > 0)
}

/** One line of the book: the head of a task, or one of its cells. */
export type Row =
  | { kind: "head"; key: string; group: TaskGroup }
  | { kind: "cell"; key: string; group: TaskGroup; cell: Cell }

/** The book as lines, so that only those in view need to be drawn. */
export function flatRows(groups: TaskGroup[]): Row[] {
  return groups.flatMap((group): Row[] => [
    { kind: "head", key: group.task.id, group },
    ...group.cells.map((cell): Row => ({ kind: "cell", key: cell.key, group, cell })),
  ])
}

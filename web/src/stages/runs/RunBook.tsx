import { useMemo } from "react"
import type { Schemas } from "../../api/client"
import { DotStrip } from "../../parts/DotStrip"
import { SetupMark } from "../../parts/SetupMark"
import { clock, compact, count, runValue } from "../../theme/format"
import { type Cell, type Filter, groupRuns, type TaskGroup } from "./cells"

/** Every run, grouped by task, then setup and round; a dot strip beside each cell. */
export function RunBook({
  book,
  setups,
  tasks,
  rounds,
  filter,
  chosen,
  onOpen,
}: {
  book: Schemas["RunBook"]
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  rounds: Schemas["Round"][]
  filter: Filter
  /** Id of the run whose note is open. */
  chosen: string | undefined
  onOpen: (id: string) => void
}) {
  const groups = useMemo(
    () => groupRuns(book, setups, tasks, rounds, filter),
    [book, setups, tasks, rounds, filter],
  )
  return (
    <div>
      {groups.map((group) => (
        <section key={group.task.id} className="mb-5">
          <h2 className="grid grid-cols-1 items-baseline gap-x-3 border-b border-base-content pb-0.5 text-[15px] lg:grid-cols-[minmax(0,1fr)_minmax(140px,28%)]">
            <span className="min-w-0 truncate" title={group.task.name}>
              {group.task.name}
            </span>
            <Ends group={group} />
          </h2>
          {group.cells.map((cell) => (
            <CellRow
              key={cell.key}
              cell={cell}
              group={group}
              manyRounds={rounds.length > 1}
              chosen={chosen}
              onOpen={onOpen}
            />
          ))}
        </section>
      ))}
      {groups.length === 0 && book.runs.length > 0 && (
        <p className="text-mute">No run is like this.</p>
      )}
      {groups.length > 0 && (
        <p className="text-[13px] text-mute">
          One dot a run on a log scale; hollow: void; cross: failed; ringed: flagged. Nothing is
          ever deleted: open a run to void or correct it, with a reason.
        </p>
      )}
    </div>
  )
}

function Ends({ group }: { group: TaskGroup }) {
  if (group.hi === 0) return <span />
  const write = (value: number) =>
    group.task.measure === "amount" ? compact(value) : clock(value, value < 20 ? 0.01 : 1)
  return (
    <span className="figure hidden justify-between text-[12px] font-normal text-mute lg:flex">
      <span>{write(group.lo)}</span>
      <span>{write(group.hi)}</span>
    </span>
  )
}

function CellRow({
  cell,
  group,
  manyRounds,
  chosen,
  onOpen,
}: {
  cell: Cell
  group: TaskGroup
  manyRounds: boolean
  chosen: string | undefined
  onOpen: (id: string) => void
}) {
  const dots = cell.runs.map(({ run, flags }) => ({
    id: run.id,
    value: run.value,
    status: run.status,
    flagged: flags.length > 0,
  }))
  return (
    <div className="grid grid-cols-[minmax(0,1fr)] items-center gap-x-3 border-b border-line py-0.5 sm:grid-cols-[minmax(120px,190px)_minmax(0,1fr)] lg:grid-cols-[190px_minmax(0,1fr)_minmax(140px,28%)]">
      <div className="flex min-w-0 items-center gap-2">
        <SetupMark index={cell.setup.mark} size={11} />
        <span className="min-w-0 truncate" title={cell.setup.label}>
          {cell.setup.label}
        </span>
        {manyRounds && <span className="text-[12px] text-mute">{cell.round.name}</span>}
        {cell.drifting && <span className="text-[12px] text-accent">drifting</span>}
      </div>
      <ul
        className="flex min-w-0 flex-wrap"
        aria-label={`${cell.setup.label}, ${cell.round.name}: ${count(cell.runs.length, "run")}`}
      >
        {cell.runs.map(({ run, flags }) => (
          <li key={run.id}>
            <button
              type="button"
              aria-label={[
                run.value === null ? "no time" : runValue(run, group.task.measure),
                run.status,
                ...flags,
              ].join(", ")}
              title={[run.status === "ok" ? "" : `${run.status}: ${run.reason}`, ...flags]
                .filter(Boolean)
                .join(" · ")}
              className={`figure px-1.5 py-0.5 text-[13px] hover:bg-band ${run.id === chosen ? "bg-pick" : ""} ${run.status === "void" ? "text-mute line-through" : ""} ${run.status === "failed" ? "text-accent" : ""} ${flags.length > 0 ? "text-accent underline decoration-2 underline-offset-3" : ""}`}
              onClick={() => onOpen(run.id)}
            >
              {run.status === "failed" && "✕ "}
              {run.value === null ? "failed" : runValue(run, group.task.measure)}
            </button>
          </li>
        ))}
      </ul>
      <div className="hidden lg:block">
        {group.hi > 0 && (
          <DotStrip dots={dots} lo={group.lo} hi={group.hi} index={cell.setup.mark} />
        )}
      </div>
    </div>
  )
}

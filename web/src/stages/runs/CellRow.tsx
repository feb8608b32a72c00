import { memo } from "react"
import { DotStrip } from "../../parts/DotStrip"
import { SetupMark } from "../../parts/SetupMark"
import { count, runValue } from "../../theme/format"
import type { Cell, TaskGroup } from "./cells"

/** The runs of one setup on one task in one round, with their dots. */
export const CellRow = memo(function CellRow({
  cell,
  group,
  manyRounds,
  chosen,
  onOpen,
}: {
  cell: Cell
  group: TaskGroup
  manyRounds: boolean
  chosen: ReadonlySet<string>
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
        {cell.runs.map(({ run, flags }) => {
          const said = [...(run.simulated ? ["simulated"] : []), ...flags]
          return (
            <li key={run.id}>
              <button
                type="button"
                aria-pressed={chosen.has(run.id)}
                aria-label={[
                  run.value === null ? "no time" : runValue(run, group.task.measure),
                  run.status,
                  ...said,
                ].join(", ")}
                title={[run.status === "ok" ? "" : `${run.status}: ${run.reason}`, ...said]
                  .filter(Boolean)
                  .join(" · ")}
                className={`figure px-1.5 py-0.5 text-[13px] hover:bg-band ${chosen.has(run.id) ? "bg-pick" : ""} ${run.status === "void" ? "text-mute line-through" : ""} ${run.status === "failed" ? "text-accent" : ""} ${flags.length > 0 ? "text-accent underline decoration-2 underline-offset-3" : ""} ${run.simulated ? "italic" : ""}`}
                onClick={() => onOpen(run.id)}
              >
                {run.status === "failed" && "✕ "}
                {run.value === null ? "failed" : runValue(run, group.task.measure)}
                {run.simulated && <span className="font-sans text-[11px]"> sim.</span>}
              </button>
            </li>
          )
        })}
      </ul>
      <div className="hidden lg:block">
        {group.hi > 0 && (
          <DotStrip dots={dots} lo={group.lo} hi={group.hi} index={cell.setup.mark} />
        )}
      </div>
    </div>
  )
})

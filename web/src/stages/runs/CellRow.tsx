import { memo } from "react"
import type { Schemas } from "../../api/client"
import { labelOf, RUN_FLAG, RUN_STATUS } from "../../api/labels"
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
    <div className="grid grid-cols-[minmax(0,1fr)] items-center gap-x-3 border-b border-line py-0.5 sm:grid-cols-[minmax(7.5rem,11.875rem)_minmax(0,1fr)] lg:grid-cols-[11.875rem_minmax(0,1fr)_minmax(8.75rem,28%)]">
      <div className="flex min-w-0 items-center gap-2">
        <SetupMark index={cell.setup.mark} size={11} />
        <span className="min-w-0 break-words">{cell.setup.label}</span>
        {manyRounds && <span className="text-12 text-mute">{cell.round.name}</span>}
        {cell.drifting && <span className="text-12 text-accent">drifting</span>}
      </div>
      {/* biome-ignore lint/a11y/useKeyWithClickEvents: the buttons inside turn keys into clicks */}
      <ul
        className="flex min-w-0 flex-wrap"
        aria-label={`${cell.setup.label}, ${cell.round.name}: ${count(cell.runs.length, "run")}`}
        onClick={(event) => {
          const pressed = (event.target as HTMLElement).closest<HTMLElement>("[data-run]")
          if (pressed?.dataset.run) onOpen(pressed.dataset.run)
        }}
      >
        {cell.runs.map(({ run, flags }) => (
          <RunButton
            key={run.id}
            run={run}
            flags={flags}
            measure={group.task.measure}
            chosen={chosen.has(run.id)}
          />
        ))}
      </ul>
      <div className="hidden lg:block">
        {group.hi > 0 && (
          <DotStrip dots={dots} lo={group.lo} hi={group.hi} index={cell.setup.mark} />
        )}
      </div>
    </div>
  )
})

/** One run; what is pressed is found by the list, so that a long one stays light. */
function RunButton({
  run,
  flags,
  measure,
  chosen,
}: {
  run: Schemas["RunInBrief"]
  flags: string[]
  measure: string
  chosen: boolean
}) {
  const value = run.value === null ? "failed" : runValue(run, measure)
  if (run.status === "ok" && flags.length === 0 && !run.simulated) {
    return (
      <li>
        <button type="button" data-run={run.id} aria-pressed={chosen} className={PLAIN}>
          {value}
        </button>
      </li>
    )
  }
  const said = [
    ...(run.simulated ? ["simulated"] : []),
    ...flags.map((flag) => labelOf(RUN_FLAG, flag)),
  ]
  const state = labelOf(RUN_STATUS, run.status)
  const reason = run.status === "ok" ? [] : [`${state}: ${run.reason}`]
  const flag = flags[0] && run.status === "ok" ? ` ${labelOf(RUN_FLAG, flags[0])}` : ""
  // Who says what they see, by voice, presses it.
  const seen = `${run.status === "failed" ? "✕ " : ""}${value}${run.simulated ? " sim." : ""}${flag}`
  const look = [
    PLAIN,
    run.status === "void" ? "text-mute line-through" : "",
    run.status === "failed" ? "text-accent" : "",
    flags.length > 0 ? "text-accent underline decoration-2 underline-offset-3" : "",
    run.simulated ? "italic" : "",
  ].join(" ")
  return (
    <li>
      <button
        type="button"
        data-run={run.id}
        aria-pressed={chosen}
        aria-label={[seen, state, ...said].join(", ")}
        title={[...reason, ...said].join(" · ")}
        className={look}
      >
        {run.status === "failed" && "✕ "}
        {value}
        {run.simulated && <span className="font-sans text-11"> sim.</span>}
        {flag && <span className="font-sans text-11">{flag}</span>}
      </button>
    </li>
  )
}

const PLAIN = "figure px-1.5 py-0.5 text-13 hover:bg-band aria-pressed:bg-pick"

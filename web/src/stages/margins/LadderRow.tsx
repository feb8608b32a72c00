import type { Schemas } from "../../api/client"
import { labelOf, RESULT } from "../../api/labels"
import { useReading } from "../../parts/Reading"
import { CELL, named, ROW, ROW_HEAD } from "../../parts/roles"
import { Jaws } from "../../parts/rule/Jaws"
import { RuleBand } from "../../parts/rule/RuleAxis"
import type { RuleScale } from "../../parts/rule/scale"
import { SetupMark } from "../../parts/SetupMark"
import { clock, compact, plain, ratio } from "../../theme/format"

/** One setup on the ladder. */
export function LadderRow({
  row,
  view,
  place,
  scale,
  picked,
  onPick,
  onBaseline,
  onFigure,
}: {
  row: Schemas["LadderRow"]
  view: Schemas["LadderView"]
  /** Place in the line-up; the marker follows from it. */
  place: number
  scale: RuleScale
  picked: boolean
  onPick: () => void
  onBaseline: () => void
  /** Opens the working of the row's figures. */
  onFigure: () => void
}) {
  const isBase = row.call === "baseline"
  const ranks =
    row.best_rank === row.worst_rank ? `${row.best_rank}` : `${row.best_rank}–${row.worst_rank}`
  return (
    <div
      {...ROW}
      className={`ladder-row border-b border-line ${picked ? "bg-pick" : "hover:bg-base-200"}`}
    >
      <span {...CELL} className="ladder-rank figure font-bold">
        {ranks}
      </span>
      <NameCell row={row} place={place} picked={picked} onPick={onPick} onBaseline={onBaseline} />
      <div {...CELL} className="ladder-rule relative h-full">
        <RuleBand scale={scale} materiality={view.materiality} />
        <OnRule row={row} view={view} scale={scale} />
      </div>
      {view.measure && (
        <span {...CELL} className="ladder-value figure text-right text-15 font-bold">
          {view.measure === "time"
            ? clock(row.typical, view.resolution ?? 1)
            : compact(row.typical)}
        </span>
      )}
      {view.measure === "time" && (
        <span {...CELL} className="ladder-saved figure text-right">
          {isBase ? "" : clock(row.saved, view.resolution ?? 1)}
        </span>
      )}
      <div {...CELL} className="ladder-ratio">
        <button
          type="button"
          className="figure h-7 w-full text-right decoration-line hover:underline"
          aria-label={`${isBase ? plain(1, 2) : ratio(row.ratio)}: working of the figures of ${row.label}`}
          title="How its figures were worked out"
          onClick={onFigure}
        >
          {isBase ? plain(1, 2) : ratio(row.ratio)}
        </button>
      </div>
      {view.speed_unit && (
        <span {...CELL} className="ladder-speed figure text-right">
          {plain(row.speed, 2)}
        </span>
      )}
      <span
        {...CELL}
        className={`ladder-runs figure text-right ${row.runs === 1 ? "text-accent" : ""}`}
      >
        {row.runs}
      </span>
    </div>
  )
}

/** The marker, which makes a setup the baseline, and the name, which picks it. */
function NameCell({
  row,
  place,
  picked,
  onPick,
  onBaseline,
}: {
  row: Schemas["LadderRow"]
  place: number
  picked: boolean
  onPick: () => void
  onBaseline: () => void
}) {
  const isBase = row.call === "baseline"
  const reading = useReading()
  return (
    <div {...named(ROW_HEAD, row.label)} className="ladder-name flex min-w-0 items-center gap-2">
      <button
        type="button"
        className="grid h-7 w-7 shrink-0 place-items-center hover:bg-band"
        aria-label={isBase ? `${row.label} is the baseline` : `Make ${row.label} the baseline`}
        aria-pressed={isBase}
        title={isBase ? "the baseline" : `Make ${row.label} the baseline`}
        disabled={reading}
        onClick={onBaseline}
      >
        <SetupMark index={place} />
      </button>
      <button
        type="button"
        className="min-w-0 flex-1 text-left"
        aria-pressed={picked}
        onClick={onPick}
      >
        <span className="ladder-label font-head text-15 leading-5 font-bold" title={row.label}>
          {row.label}
          {row.carried && (
            <span className="font-normal text-mute" title="estimated from an earlier round">
              {" "}
              ↻
            </span>
          )}
        </span>
        <span className="block truncate text-12 leading-4 text-mute">
          {row.completion ? <span className="text-accent">{row.completion}</span> : row.detail}
        </span>
      </button>
    </div>
  )
}

/** The jaws of a setup on the rule, or the line of the baseline. */
function OnRule({
  row,
  view,
  scale,
}: {
  row: Schemas["LadderRow"]
  view: Schemas["LadderView"]
  scale: RuleScale
}) {
  if (row.call === "baseline") {
    return (
      <div
        className="absolute flex h-full items-center gap-2 text-13 text-mute"
        style={{ left: `${100 * scale.at(1)}%` }}
      >
        <span className="-ml-px h-5 w-0.5 bg-base-content" /> <span className="ml-3">baseline</span>
      </div>
    )
  }
  if (row.lo === null || row.hi === null || row.ratio === null) return null
  return (
    <Jaws
      scale={scale}
      lo={row.lo}
      hi={row.hi}
      estimate={row.ratio}
      call={row.call}
      materiality={view.materiality}
      label={`${ratio(row.ratio)} times as fast as ${view.baseline}, ${ratio(row.lo)} to ${ratio(row.hi)}: ${labelOf(RESULT, row.call)}`}
    />
  )
}

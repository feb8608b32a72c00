import type { Schemas } from "../../api/client"
import { RuleAxis } from "../../parts/rule/RuleAxis"
import { fitScale } from "../../parts/rule/scale"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { BesideRows } from "./BesideRows"
import { bracketsOf } from "./brackets"
import { LadderRow } from "./LadderRow"

const LANE = 9

/** Setups in order of speed, on the rule; a bracket spans the ranks each may hold. */
export function Ladder({
  slug,
  view,
  picked,
  onPick,
  onBaseline,
  onFigure,
}: {
  slug: string
  view: Schemas["LadderView"]
  /** Ids of the selected setups, at most two. */
  picked: string[]
  onPick: (id: string) => void
  onBaseline: (id: string) => void
  /** Opens the working of one setup's figures. */
  onFigure: (id: string) => void
}) {
  const placeOf = useSetupPlaces(slug)
  const known = [...view.rows, ...view.beside]
  const scale = fitScale(known.flatMap((row) => [row.lo, row.hi, row.ratio]))
  const brackets = bracketsOf(view.rows)
  const lanes = Math.max(1, ...brackets.map((bracket) => bracket.lane + 1))
  const unit = view.speed_unit
  const value = view.measure === "amount" ? (view.unit ?? "amount") : "time"
  return (
    <div className="@container">
      <div className="ladder" style={{ "--lanes": `${lanes * LANE + 8}px` } as React.CSSProperties}>
        <div className="ladder-row ladder-head items-end text-[12px] text-mute">
          <span className="ladder-rank">rank</span>
          <span className="ladder-name" />
          <div className="ladder-rule">
            <RuleAxis scale={scale} />
          </div>
          <span className="ladder-ratio text-right">ratio</span>
          {view.measure && <span className="ladder-value text-right">{value}</span>}
          {unit && (
            <span className="ladder-speed text-right">
              {unit === "times real time" ? "× real time" : unit}
            </span>
          )}
          <span className="ladder-runs text-right">runs</span>
        </div>
        <ol className="relative border-t border-line">
          {view.rows.map((row) => (
            <LadderRow
              key={row.setup_id}
              row={row}
              view={view}
              place={placeOf(row.setup_id)}
              scale={scale}
              picked={picked.includes(row.setup_id)}
              onPick={() => onPick(row.setup_id)}
              onBaseline={() => onBaseline(row.setup_id)}
              onFigure={() => onFigure(row.setup_id)}
            />
          ))}
          {brackets.map((bracket) => (
            <li
              key={`${bracket.from} ${bracket.to}`}
              aria-hidden="true"
              className="pointer-events-none absolute w-1.5 border-2 border-r-0 border-base-content"
              style={{
                top: `calc(${bracket.from} * var(--row) + 8px)`,
                height: `calc(${bracket.to - bracket.from + 1} * var(--row) - 16px)`,
                left: 34 + bracket.lane * LANE,
              }}
            />
          ))}
        </ol>
        <BesideRows
          rows={view.beside}
          view={view}
          scale={scale}
          picked={picked}
          placeOf={placeOf}
          onPick={onPick}
        />
      </div>
      <p className="flex justify-between pt-1 text-[12px] text-mute" aria-hidden="true">
        <span className="ladder-hint">
          Further right is faster. Click two rows to compare them, a marker to make it the baseline,
          a ratio to see how it was worked out.
        </span>
      </p>
    </div>
  )
}

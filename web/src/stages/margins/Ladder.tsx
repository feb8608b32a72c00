import { Fragment, useState } from "react"
import type { Schemas } from "../../api/client"
import { CELL, COLUMN_HEAD, named, ROW, ROW_GROUP, TABLE } from "../../parts/roles"
import { RuleAxis } from "../../parts/rule/RuleAxis"
import { fitScale } from "../../parts/rule/scale"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { count } from "../../theme/format"
import { rem } from "../../theme/rem"
import { BesideRows } from "./BesideRows"
import { LadderRow } from "./LadderRow"
import { GROUP, ladderLayout } from "./ladderLayout"
import { Zoom } from "./Zoom"

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
  const [zoomed, setZoomed] = useState<number | null>(null)
  const known = [...view.rows, ...view.beside]
  const scale = fitScale(known.flatMap((row) => [row.lo, row.hi, row.ratio]))
  const { brackets, lanes } = ladderLayout(view.rows, view.groups, zoomed)
  return (
    <div className="@container">
      <div
        className="ladder"
        {...named(TABLE, `Ranking of ${count(view.rows.length, "setup")}, fastest first`)}
        style={{ "--lanes": rem(lanes * LANE + 8) } as React.CSSProperties}
      >
        <div {...ROW} className="ladder-row ladder-head items-end text-12 text-mute">
          <span {...COLUMN_HEAD} className="ladder-rank">
            rank
          </span>
          <span {...COLUMN_HEAD} className="ladder-name">
            <span className="sr-only">setup</span>
          </span>
          <div {...COLUMN_HEAD} className="ladder-rule">
            <span className="sr-only">result against {view.baseline}</span>
            <RuleAxis scale={scale} />
          </div>
          <ColumnHeads view={view} />
        </div>
        <div {...ROW_GROUP} className="relative border-t border-line">
          {view.rows.map((row, at) => (
            <Fragment key={row.setup_id}>
              <GroupWords view={view} at={at} zoomed={zoomed} onZoom={setZoomed} />
              <LadderRow
                row={row}
                view={view}
                place={placeOf(row.setup_id)}
                scale={scale}
                picked={picked.includes(row.setup_id)}
                onPick={() => onPick(row.setup_id)}
                onBaseline={() => onBaseline(row.setup_id)}
                onFigure={() => onFigure(row.setup_id)}
              />
              {view.groups.map(
                ({ first, last }) =>
                  last === at &&
                  first === zoomed && (
                    <Zoom
                      key={first}
                      rows={view.rows.slice(first, last + 1)}
                      view={view}
                      placeOf={placeOf}
                    />
                  ),
              )}
            </Fragment>
          ))}
          {brackets.map((bracket) => (
            <div
              key={`${bracket.from} ${bracket.to}`}
              aria-hidden="true"
              className="pointer-events-none absolute w-1.5 border-2 border-r-0 border-base-content"
              style={{
                top: bracket.top,
                height: bracket.height,
                left: rem(34 + bracket.lane * LANE),
              }}
            />
          ))}
        </div>
        <BesideRows
          rows={view.beside}
          view={view}
          scale={scale}
          picked={picked}
          placeOf={placeOf}
          onPick={onPick}
        />
      </div>
      <p className="flex justify-between pt-1 text-12 text-mute" aria-hidden="true">
        <span className="ladder-hint">
          Further right is faster. Click two rows to compare them, a marker to make it the baseline,
          a ratio to see how it was worked out.
        </span>
      </p>
    </div>
  )
}

function ColumnHeads({ view }: { view: Schemas["LadderView"] }) {
  const value = view.measure === "amount" ? (view.unit ?? "amount") : "time"
  return (
    <>
      {view.measure && (
        <span {...COLUMN_HEAD} className="ladder-value text-right">
          {value}
        </span>
      )}
      {view.measure === "time" && (
        <span {...COLUMN_HEAD} className="ladder-saved text-right">
          saved
        </span>
      )}
      <span {...COLUMN_HEAD} className="ladder-ratio text-right">
        ratio
      </span>
      {view.speed_unit && (
        <span {...COLUMN_HEAD} className="ladder-speed text-right">
          {view.speed_unit === "times real time" ? "× real time" : view.speed_unit}
        </span>
      )}
      <span {...COLUMN_HEAD} className="ladder-runs text-right">
        runs
      </span>
    </>
  )
}

/** Words over the first row of a group that shares its ranks, and the zoom into it. */
function GroupWords({
  view,
  at,
  zoomed,
  onZoom,
}: {
  view: Schemas["LadderView"]
  at: number
  /** First row of the group that is enlarged. */
  zoomed: number | null
  onZoom: (first: number | null) => void
}) {
  const group = view.groups.find(({ first }) => first === at)
  if (!group) return null
  const drawn = view.rows.slice(group.first, group.last + 1).filter((row) => row.lo !== null)
  const open = zoomed === at
  return (
    <div {...ROW}>
      <div
        {...CELL}
        className="ladder-group flex items-center justify-between border-b border-line text-13"
        style={{ height: rem(GROUP), paddingLeft: "calc(2.5rem + var(--lanes))" }}
      >
        <span className="font-bold">{group.words}</span>
        {drawn.length > 1 && (
          <button
            type="button"
            className="btn btn-ghost btn-xs font-normal underline decoration-line"
            aria-expanded={open}
            onClick={() => onZoom(open ? null : at)}
          >
            {open ? "Close the zoom" : "Zoom in"}
          </button>
        )}
      </div>
    </div>
  )
}

import type { Schemas } from "../../api/client"
import { CELL, ROW } from "../../parts/roles"
import { Jaws } from "../../parts/rule/Jaws"
import { RuleAxis } from "../../parts/rule/RuleAxis"
import { zoomScale } from "../../parts/rule/scale"
import { SetupMark } from "../../parts/SetupMark"
import { percent, ratio } from "../../theme/format"
import { rem } from "../../theme/rem"

/** Of one setup within the zoom, and of its axis with its edges, in pixels. */
const LINE = 24
const AXIS = 52

export const zoomHeight = (rows: number) => rows * LINE + AXIS

/** Setups that share their ranks, on a scale of their own that is wide enough to part them. */
export function Zoom({
  rows,
  view,
  placeOf,
}: {
  rows: Schemas["LadderRow"][]
  view: Schemas["LadderView"]
  placeOf: (id: string) => number
}) {
  const scale = zoomScale(rows.flatMap((row) => [row.lo, row.hi, row.ratio]))
  return (
    <div {...ROW}>
      <div
        {...CELL}
        className="ladder-zoom border-b border-line bg-base-200"
        style={{ height: rem(zoomHeight(rows.length)) }}
        data-testid="zoom"
      >
        <p className="ladder-zoom-words text-12 leading-4 text-mute">
          Enlarged: {percent(view.confidence)} intervals, times as fast as {view.baseline}
        </p>
        <ol className="ladder-zoom-rule">
          {rows.map((row) => (
            <li key={row.setup_id} className="relative" style={{ height: rem(LINE) }}>
              <span className="absolute top-1/2 -left-6 -translate-y-1/2">
                <SetupMark index={placeOf(row.setup_id)} />
              </span>
              {row.lo !== null && row.hi !== null && row.ratio !== null && (
                <Jaws
                  scale={scale}
                  lo={row.lo}
                  hi={row.hi}
                  estimate={row.ratio}
                  call={row.call}
                  materiality={view.materiality}
                  label={`${row.label}: ${ratio(row.ratio)}, ${ratio(row.lo)} to ${ratio(row.hi)}`}
                />
              )}
            </li>
          ))}
          <li aria-hidden="true">
            <RuleAxis scale={scale} below />
          </li>
        </ol>
      </div>
    </div>
  )
}

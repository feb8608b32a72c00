import { useId } from "react"
import type { Schemas } from "../../api/client"
import { CELL, named, ROW, ROW_GROUP, ROW_HEAD } from "../../parts/roles"
import { RuleBand } from "../../parts/rule/RuleAxis"
import type { RuleScale } from "../../parts/rule/scale"
import { SetupMark } from "../../parts/SetupMark"
import { ratio } from "../../theme/format"

const HEIGHT = 20
const percentOf = (part: number) => `${(100 * part).toFixed(3)}%`

/** Setups that were not measured, on the same rule: by a bound, one end; by a note, hatched. */
export function BesideRows({
  rows,
  view,
  scale,
  picked,
  placeOf,
  onPick,
}: {
  rows: Schemas["BesideRow"][]
  view: Schemas["LadderView"]
  scale: RuleScale
  picked: string[]
  placeOf: (id: string) => number
  onPick: (id: string) => void
}) {
  if (rows.length === 0) return null
  return (
    <div {...named(ROW_GROUP, "Not measured, and yet known")}>
      {rows.map((row) => (
        <div
          {...ROW}
          key={row.setup_id}
          className={`ladder-row border-b border-line ${picked.includes(row.setup_id) ? "bg-pick" : "hover:bg-base-200"}`}
        >
          <span {...CELL} className="ladder-rank figure">
            {row.ranks || "–"}
          </span>
          <div
            {...named(ROW_HEAD, row.label)}
            className="ladder-name flex min-w-0 items-center gap-2"
          >
            <span className="grid h-7 w-7 shrink-0 place-items-center">
              <SetupMark index={placeOf(row.setup_id)} />
            </span>
            <button
              type="button"
              className="min-w-0 flex-1 text-left"
              aria-pressed={picked.includes(row.setup_id)}
              onClick={() => onPick(row.setup_id)}
            >
              <span className="ladder-label font-head text-15 leading-5 font-bold">
                {row.label}
              </span>
              <span className="block truncate text-12 leading-4 text-mute" title={row.words}>
                {row.evidence === "bound" ? "not timed: a bound" : "not timed: noted"}
              </span>
            </button>
          </div>
          <div {...CELL} className="ladder-rule relative h-full">
            <RuleBand scale={scale} materiality={view.materiality} />
            <Ends row={row} scale={scale} />
          </div>
          {view.measure && <span {...CELL} className="ladder-value" />}
          {view.measure === "time" && <span {...CELL} className="ladder-saved" />}
          <span {...CELL} className="ladder-ratio figure text-right text-13" title={row.words}>
            {row.ratio !== null
              ? ratio(row.ratio)
              : row.lo !== null
                ? `≥ ${ratio(row.lo)}`
                : row.hi !== null
                  ? `≤ ${ratio(row.hi)}`
                  : "–"}
          </span>
          {view.speed_unit && <span {...CELL} className="ladder-speed" />}
          <span {...CELL} className="ladder-runs figure text-right text-mute">
            0
          </span>
        </div>
      ))}
    </div>
  )
}

/** What is known: a jaw at each end, and an arrow where there is none. */
function Ends({ row, scale }: { row: Schemas["BesideRow"]; scale: RuleScale }) {
  const hatch = useId()
  const { lo, hi, ratio: middle } = row
  if (lo === null && hi === null && middle === null) return null
  const ink = "var(--color-base-content)"
  const from = lo === null ? (middle === null || hi !== null ? 0 : scale.at(middle)) : scale.at(lo)
  const to = hi === null ? (middle === null || lo !== null ? 1 : scale.at(middle)) : scale.at(hi)
  const y = HEIGHT / 2
  return (
    <svg
      className="absolute top-1/2 left-0 w-full -translate-y-1/2 overflow-visible"
      height={HEIGHT}
      role="img"
      aria-label={row.words}
    >
      <title>{row.words}</title>
      <defs>
        <pattern
          id={hatch}
          width="5"
          height="5"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="1.3" height="5" fill={ink} />
        </pattern>
      </defs>
      <rect
        x={percentOf(from)}
        width={percentOf(Math.max(to - from, 0.002))}
        y={y - 4}
        height={8}
        fill={`url(#${hatch})`}
        stroke={lo !== null && hi !== null ? ink : "none"}
        strokeWidth="1"
        strokeDasharray="2 2"
      />
      {lo !== null && <Jaw at={scale.at(lo)} ink={ink} />}
      {hi !== null && <Jaw at={scale.at(hi)} ink={ink} />}
    </svg>
  )
}

function Jaw({ at, ink }: { at: number; ink: string }) {
  const y = HEIGHT / 2
  return (
    <line
      x1={percentOf(at)}
      x2={percentOf(at)}
      y1={y - 8}
      y2={y + 8}
      stroke={ink}
      strokeWidth="2"
    />
  )
}

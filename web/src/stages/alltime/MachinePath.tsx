import type { Schemas } from "../../api/client"
import { markOf } from "../../parts/SetupMark"
import type { TimeLayout } from "./layout"

type Line = Schemas["MachineLine"]

/** A shape of a machine's mark around a point; hollow where nothing was measured there. */
function Mark({ mark, x, y, hollow }: { mark: number; x: number; y: number; hollow: boolean }) {
  const { color, shape } = markOf(mark)
  return (
    <g
      transform={`translate(${x - 6.5} ${y - 6.5}) scale(0.8125)`}
      fill={hollow ? "var(--color-base-100)" : color}
      stroke={hollow ? color : "none"}
      strokeWidth={hollow ? 2.2 : 0}
    >
      {shape}
    </g>
  )
}

export function MachinePath({
  line,
  place,
  layout,
}: {
  line: Line
  place: number
  layout: TimeLayout
}) {
  const { x, y, newest, labels, width, right } = layout
  const { color } = markOf(line.mark)
  const now = line.value ?? 1
  const carried = line.carried > 0
  // A measured machine ends where the fit puts it, which all its figures follow.
  const measured = line.points.map((point) => ({
    x: x(point.column),
    y: y(point.column === newest ? now : point.value),
  }))
  const last = measured.at(-1)
  const end = { x: x(newest), y: y(now) }
  const at = labels[place] ?? end.y
  const name = width - right + 34
  return (
    <g>
      <polyline
        points={measured.map((each) => `${each.x},${each.y}`).join(" ")}
        fill="none"
        stroke={color}
        strokeWidth="1.8"
      />
      {carried && last && (
        <>
          <line
            x1={last.x}
            y1={last.y}
            x2={end.x}
            y2={end.y}
            stroke={color}
            strokeWidth="1.5"
            strokeDasharray="3 4"
          />
          <Interval x={end.x} from={y(line.lo ?? now)} to={y(line.hi ?? now)} />
          <Mark mark={line.mark} x={end.x} y={end.y} hollow />
        </>
      )}
      {measured.map((each) => (
        <Mark key={each.x} mark={line.mark} x={each.x} y={each.y} hollow={false} />
      ))}
      <polyline
        points={`${end.x + 11},${end.y} ${name - 16},${at}`}
        fill="none"
        stroke="var(--color-base-300)"
      />
      <Mark mark={line.mark} x={name - 6} y={at} hollow={carried} />
      <text x={name + 6} y={at + 4.5} fontSize="13" fill="var(--color-base-content)">
        {shortened(line.label, width - name - 74)}
        <title>{line.label}</title>
      </text>
      <text
        x={width - 2}
        y={at + 4.5}
        textAnchor="end"
        fontSize="14"
        fontWeight={carried ? 400 : 700}
        className="figure"
        fill="var(--color-base-content)"
      >
        {carried ? `≈ ${line.shown}` : line.shown}
      </text>
    </g>
  )
}

/** As much of a name as has room; the whole stands in the table below. */
function shortened(label: string, room: number): string {
  const most = Math.max(6, Math.floor(room / 6.6))
  return label.length <= most ? label : `${label.slice(0, most - 1).trimEnd()}…`
}

function Interval({ x, from, to }: { x: number; from: number; to: number }) {
  return (
    <path
      d={`M${x - 5} ${from}h10M${x} ${from}V${to}M${x - 5} ${to}h10`}
      stroke="var(--color-base-content)"
      strokeWidth="1.4"
      fill="none"
    />
  )
}

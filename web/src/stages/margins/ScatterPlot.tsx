import type { Schemas } from "../../api/client"
import { fitScale } from "../../parts/rule/scale"
import { markOf } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { compact, count, ratio } from "../../theme/format"

const WIDTH = 640
const HEIGHT = 260
const LEFT = 46
const BELOW = 40
const TOP = 10
const RIGHT = 160

type Place = (value: number) => number

/** Setups by what they have of a spec and how fast they are, both on logarithmic axes. */
export function ScatterPlot({ slug, data }: { slug: string; data: Schemas["SpecScatter"] }) {
  const placeOf = useSetupPlaces(slug)
  const speed = fitScale(data.points.flatMap((point) => [point.lo, point.hi]))
  const xs = data.points.map((point) => point.x)
  const low = Math.log(Math.min(...xs))
  const span = Math.max(Math.log(Math.max(...xs)) - low, 1e-9)
  const x = (value: number) =>
    LEFT + 18 + ((Math.log(value) - low) / span) * (WIDTH - LEFT - RIGHT - 18)
  const y = (value: number) => TOP + (1 - speed.at(value)) * (HEIGHT - TOP - BELOW)
  const unit = data.unit ? ` ${data.unit}` : ""
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      className="mt-1 block w-full max-w-160"
      role="img"
      aria-label={`${data.title} against speed, ${count(data.points.length, "setup")}. ${data.says}`}
    >
      <SpeedAxis ticks={speed.ticks} y={y} />
      <SpecAxis values={xs} x={x} title={`${data.title}${data.unit ? `, ${data.unit}` : ""}`} />
      {data.points.map((point) => (
        <Point
          key={point.setup_id}
          point={point}
          unit={unit}
          place={placeOf(point.setup_id)}
          x={x}
          y={y}
        />
      ))}
      {names(data.points, x, y).map((name) => (
        <text key={name.label} x={name.x} y={name.y} fontSize="11" fill="var(--color-base-content)">
          {name.label}
        </text>
      ))}
    </svg>
  )
}

/** Lines across at round ratios; that of 1 is heavier. */
function SpeedAxis({ ticks, y }: { ticks: number[]; y: Place }) {
  return (
    <>
      {ticks.map((tick) => (
        <g key={tick}>
          <line
            x1={LEFT}
            x2={WIDTH - RIGHT}
            y1={y(tick)}
            y2={y(tick)}
            stroke="var(--color-base-300)"
            strokeWidth={tick === 1 ? 1.6 : 1}
          />
          <text
            x={LEFT - 6}
            y={y(tick) + 4}
            textAnchor="end"
            fontSize="12"
            className="figure"
            fill="var(--tm-mute)"
          >
            {compact(tick)}×
          </text>
        </g>
      ))}
      <line
        x1={LEFT}
        x2={WIDTH - RIGHT}
        y1={HEIGHT - BELOW}
        y2={HEIGHT - BELOW}
        stroke="var(--color-base-content)"
      />
    </>
  )
}

/** The axis below: values that setups have, as far as their labels stand clear. */
function SpecAxis({ values, x, title }: { values: number[]; x: Place; title: string }) {
  return (
    <>
      {labelled(
        [...new Set(values)].sort((a, b) => a - b),
        x,
      ).map((value) => (
        <g key={value}>
          <line
            x1={x(value)}
            x2={x(value)}
            y1={HEIGHT - BELOW}
            y2={HEIGHT - BELOW + 5}
            stroke="var(--color-base-content)"
          />
          <text
            x={x(value)}
            y={HEIGHT - BELOW + 18}
            textAnchor="middle"
            fontSize="12"
            className="figure"
            fill="var(--tm-mute)"
          >
            {compact(value)}
          </text>
        </g>
      ))}
      <text
        x={(LEFT + WIDTH - RIGHT) / 2}
        y={HEIGHT - 5}
        textAnchor="middle"
        fontSize="12"
        fill="var(--tm-mute)"
      >
        {title}
      </text>
    </>
  )
}

/** One setup: its interval as a line, its mark at the estimate. */
function Point({
  point,
  unit,
  place,
  x,
  y,
}: {
  point: Schemas["SpecPoint"]
  unit: string
  place: number
  x: Place
  y: Place
}) {
  const { color, shape } = markOf(place)
  return (
    <g>
      <title>
        {point.label}: {compact(point.x)}
        {unit}, {ratio(point.ratio)}×
      </title>
      <line
        x1={x(point.x)}
        x2={x(point.x)}
        y1={y(point.lo)}
        y2={y(point.hi)}
        stroke="var(--color-base-content)"
        strokeWidth="1.5"
      />
      <g transform={`translate(${x(point.x) - 7} ${y(point.ratio) - 7}) scale(0.875)`} fill={color}>
        {shape}
      </g>
    </g>
  )
}

/** Values whose labels stand clear of each other. */
function labelled(values: number[], x: (value: number) => number): number[] {
  const kept: number[] = []
  for (const value of values) {
    const last = kept.at(-1)
    if (last === undefined || x(value) - x(last) > 34) kept.push(value)
  }
  return kept
}

type Named = { label: string; x: number; y: number }

/** Names beside the marks, moved down where one would lie on another. */
function names(
  points: { label: string; x: number; ratio: number }[],
  x: (value: number) => number,
  y: (value: number) => number,
): Named[] {
  const placed: Named[] = []
  for (const point of [...points].sort((a, b) => y(a.ratio) - y(b.ratio))) {
    const own = { label: point.label, x: x(point.x) + 11, y: y(point.ratio) + 4 }
    for (const other of placed) {
      if (Math.abs(other.x - own.x) < 90 && own.y - other.y < 12 && own.y > other.y - 12) {
        own.y = other.y + 12
      }
    }
    placed.push(own)
  }
  return placed
}

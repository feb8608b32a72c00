import type { Schemas } from "../../api/client"
import { markOf } from "../../parts/SetupMark"
import { useWidth } from "../../parts/useWidth"
import { compact, localised, monthYear } from "../../theme/format"
import { rem } from "../../theme/rem"
import { axisTicks, type TimeLayout, timeLayout } from "./layout"

type View = Schemas["AllTimeView"]
type Line = Schemas["MachineLine"]

/** One line a machine over the versions of the app; carried-over ends are dashed and hollow. */
export function TimeChart({ view }: { view: View }) {
  const [ref, width] = useWidth(760)
  const layout = timeLayout(view, width)
  return (
    <div ref={ref} className="min-w-0">
      {width >= 420 && (
        <>
          <Versions view={view} layout={layout} />
          <svg
            width="100%"
            style={{ height: rem(layout.height) }}
            viewBox={`0 ${layout.above} ${width} ${layout.height}`}
            role="img"
            aria-label={`${view.headline} ${view.sentence}`}
          >
            <Axes view={view} layout={layout} />
            {layout.ranked.map((line, place) => (
              <MachinePath key={line.label} line={line} place={place} layout={layout} />
            ))}
          </svg>
          <Updates view={view} layout={layout} />
        </>
      )}
    </div>
  )
}

function Versions({ view, layout }: { view: View; layout: TimeLayout }) {
  return (
    <ul className="relative h-11" aria-label={`Versions of ${view.app}`}>
      {view.versions.map(
        (version, column) =>
          column >= layout.first && (
            <li
              key={version.name}
              className="absolute -translate-x-1/2 text-center whitespace-nowrap"
              style={{ left: rem(layout.x(column)) }}
            >
              <span className="block font-head text-16 leading-5 font-bold">{version.name}</span>
              <span className="block text-12 leading-4 text-mute">
                {version.since ? monthYear(version.since) : ""}
              </span>
            </li>
          ),
      )}
    </ul>
  )
}

/** A tick of the axis: seconds below a minute, minutes below two hours, or the plain amount. */
function tickWords(time: boolean, tick: number): string {
  if (!time) return compact(tick)
  if (tick < 60) return `${tick} s`
  if (tick < 7200) return `${localised(String(tick / 60))} min`
  return `${localised(String(tick / 3600))} h`
}

function Axes({ view, layout }: { view: View; layout: TimeLayout }) {
  const { x, y, left, right, width, first } = layout
  const [top = 0, bottom = 0] = y.range()
  return (
    <>
      {view.versions.map(
        (version, column) =>
          column >= first && (
            <line
              key={version.name}
              x1={x(column)}
              x2={x(column)}
              y1={top}
              y2={bottom}
              stroke="var(--color-base-300)"
            />
          ),
      )}
      {axisTicks(layout.time, y).map((tick) => (
        <g key={tick}>
          <line
            x1={left - 4}
            x2={width - right}
            y1={y(tick)}
            y2={y(tick)}
            stroke="var(--color-base-300)"
          />
          <text
            x={left - 8}
            y={y(tick) + 4}
            textAnchor="end"
            fontSize="12"
            className="figure"
            fill="var(--tm-mute)"
          >
            {tickWords(layout.time, tick)}
          </text>
        </g>
      ))}
    </>
  )
}

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

function MachinePath({ line, place, layout }: { line: Line; place: number; layout: TimeLayout }) {
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

/** What each update did by itself, between its two versions, with who says so. */
function Updates({ view, layout }: { view: View; layout: TimeLayout }) {
  if (view.steps.length === 0) return null
  return (
    <ul className="relative mt-3 h-16" aria-label="What each update did by itself">
      {view.steps.map((step) => {
        const from = layout.x(step.before) + 4
        return (
          <li
            key={step.after}
            className={`absolute h-14 border-x-2 px-1 text-center leading-4 ${step.weak ? "border-dashed border-accent" : "border-base-content"}`}
            style={{ left: rem(from), width: rem(layout.x(step.after) - 4 - from) }}
            title={`${step.range}. Timed before and after: ${step.links.join(", ")}`}
          >
            <span className={`block truncate text-14 font-bold ${step.weak ? "text-accent" : ""}`}>
              {step.gain}
            </span>
            <span className="block truncate text-12 text-mute">{step.range}</span>
            <span className="block truncate text-12 text-mute">
              {step.links.length} {step.links.length === 1 ? "link" : "links"}
            </span>
          </li>
        )
      })}
      <li
        className="absolute top-0 text-12 leading-4 text-mute"
        style={{ left: rem(layout.x(layout.newest) + 16), right: 0 }}
      >
        faster by the update alone; a link is a machine timed before and after
      </li>
    </ul>
  )
}

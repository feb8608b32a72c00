import type { Schemas } from "../../api/client"
import { useWidth } from "../../parts/useWidth"
import { compact, localised, monthYear } from "../../theme/format"
import { rem } from "../../theme/rem"
import { axisTicks, type TimeLayout, timeLayout } from "./layout"
import { MachinePath } from "./MachinePath"

type View = Schemas["AllTimeView"]

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

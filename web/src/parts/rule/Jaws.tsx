import { useId } from "react"
import type { RuleScale } from "./scale"

export type CallName = "clear" | "ahead" | "level" | "open" | string

/** Of the drawing, in pixels; it stands in the middle of its box. */
const HEIGHT = 20

const percentOf = (part: number) => `${(100 * part).toFixed(3)}%`

/**
 * An interval on the rule: square ends like the jaws of a caliper, a notch at the
 * estimate, and a fill that is the call. Drawn in a box as wide as the scale.
 */
export function Jaws({
  scale,
  lo,
  hi,
  estimate,
  call,
  materiality,
  label,
}: {
  scale: RuleScale
  /** Ends of the interval and the estimate, as ratios. */
  lo: number
  hi: number
  estimate: number
  call: CallName
  /** Smallest ratio that matters, less 1. */
  materiality: number
  /** What a screen reader says instead; empty where the words stand beside it. */
  label: string
}) {
  const hatch = useId()
  const [x1, x2, x] = [scale.at(lo), scale.at(hi), scale.at(estimate)]
  const middle = HEIGHT / 2
  const half = 4
  const ink = "var(--color-base-content)"
  const bar = { y: middle - half, height: 2 * half }
  const [inside, outside] = split(scale, x1, x2, materiality)
  return (
    <svg
      className="slides absolute top-1/2 left-0 w-full -translate-y-1/2 overflow-visible"
      height={HEIGHT}
      role={label ? "img" : "presentation"}
      aria-label={label || undefined}
    >
      <defs>
        <pattern
          id={hatch}
          width="4"
          height="4"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="1.6" height="4" fill={ink} />
        </pattern>
      </defs>
      {call === "clear" && <Bar {...bar} from={x1} to={x2} fill={ink} />}
      {call === "ahead" && outside && <Bar {...bar} {...outside} fill={ink} />}
      {call === "ahead" && inside && (
        <Bar {...bar} {...inside} fill={`url(#${hatch})`} stroke={ink} />
      )}
      {call === "level" && <Bar {...bar} from={x1} to={x2} fill="none" stroke="var(--tm-mute)" />}
      {call === "open" && <Bar {...bar} from={x1} to={x2} fill="none" stroke={ink} dashed />}
      {[x1, x2].map((end, place) => (
        <line
          key={place === 0 ? "lo" : "hi"}
          x1={percentOf(end)}
          x2={percentOf(end)}
          y1={middle - 8}
          y2={middle + 8}
          stroke={call === "level" ? "var(--tm-mute)" : ink}
          strokeWidth="2"
        />
      ))}
      <line
        x1={percentOf(x)}
        x2={percentOf(x)}
        y1={middle - (call === "clear" ? half : 8)}
        y2={middle + (call === "clear" ? half : 8)}
        stroke={call === "clear" ? "var(--color-base-100)" : ink}
        strokeWidth="2.5"
      />
    </svg>
  )
}

type Part = { from: number; to: number }

/** Splits an interval where the band of materiality ends. */
function split(
  scale: RuleScale,
  x1: number,
  x2: number,
  materiality: number,
): [Part | null, Part | null] {
  const upper = scale.at(1 + materiality)
  const lower = scale.at(1 / (1 + materiality))
  const one = scale.at(1)
  const edge = (x1 + x2) / 2 >= one ? upper : lower
  const near = (x1 + x2) / 2 >= one ? x1 : x2
  const far = near === x1 ? x2 : x1
  const cut = Math.min(Math.max(edge, Math.min(x1, x2)), Math.max(x1, x2))
  const part = (a: number, b: number) =>
    Math.abs(a - b) < 1e-9 ? null : { from: Math.min(a, b), to: Math.max(a, b) }
  return [part(near, cut), part(cut, far)]
}

function Bar({
  from,
  to,
  y,
  height,
  fill,
  stroke,
  dashed = false,
}: Part & { y: number; height: number; fill: string; stroke?: string; dashed?: boolean }) {
  return (
    <rect
      x={percentOf(from)}
      width={percentOf(Math.max(to - from, 0.001))}
      y={y}
      height={height}
      fill={fill}
      stroke={stroke ?? "none"}
      strokeWidth="1.4"
      strokeDasharray={dashed ? "4 3" : undefined}
    />
  )
}

import { markOf } from "./SetupMark"

export type Dot = {
  id: string
  /** The run's value, or null where it has none. */
  value: number | null
  status: string
  flagged: boolean
}

/** Runs as dots on a log scale: voids hollow, failures as crosses, flagged ringed. */
export function DotStrip({
  dots,
  lo,
  hi,
  index,
}: {
  dots: Dot[]
  /** Ends of the scale, in the values' unit; dots beyond stand at the edge. */
  lo: number
  hi: number
  /** Place of the setup in the line-up, for its colour. */
  index: number
}) {
  const span = Math.max(Math.log(hi) - Math.log(lo), 1e-6)
  const place = (value: number) =>
    (100 * Math.min(Math.max((Math.log(value) - Math.log(lo)) / span, 0), 1)).toFixed(2)
  const at = (value: number) => `${place(value)}%`
  const isPlain = ({ value, status, flagged }: Dot) => status === "ok" && !flagged && value !== null
  const plain = dots.filter(isPlain)
  const special = dots.filter((dot) => !isPlain(dot))
  const { color } = markOf(index)
  return (
    <svg className="block w-full overflow-visible" height="16" aria-hidden="true">
      <line x1="0" x2="100%" y1="8" y2="8" stroke="var(--color-base-300)" />
      {plain.length > 0 && (
        // Dots that stand for nothing special are one line of points: many are as light as few.
        <svg viewBox="0 0 100 16" preserveAspectRatio="none" overflow="visible" aria-hidden="true">
          <path
            d={plain.map(({ value }) => `M${place(value ?? hi)} 8h0`).join("")}
            stroke={color}
            strokeWidth="8.2"
            strokeLinecap="round"
            vectorEffect="non-scaling-stroke"
          />
        </svg>
      )}
      {special.map(({ id, value, status, flagged }) => {
        const x = value === null ? "100%" : at(value)
        if (status === "failed") {
          return (
            <svg key={id} x={x} y="8" overflow="visible" aria-hidden="true">
              <path
                d="M-3.5-3.5 3.5 3.5M3.5-3.5-3.5 3.5"
                stroke="var(--color-accent)"
                strokeWidth="1.8"
              />
            </svg>
          )
        }
        return (
          <g key={id}>
            {flagged && (
              <circle
                cx={x}
                cy="8"
                r="6.5"
                fill="none"
                stroke="var(--color-accent)"
                strokeWidth="1.5"
              />
            )}
            <circle
              cx={x}
              cy="8"
              r="3.4"
              fill={status === "void" ? "var(--color-base-100)" : color}
              stroke={color}
              strokeWidth="1.4"
              opacity={status === "void" ? 0.8 : 1}
            />
          </g>
        )
      })}
    </svg>
  )
}

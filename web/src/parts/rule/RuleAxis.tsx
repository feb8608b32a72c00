import { compact } from "../../theme/format"
import { rem } from "../../theme/rem"
import type { RuleScale } from "./scale"

const percentOf = (part: number) => `${(100 * part).toFixed(3)}%`

/** The rule's axis: ticks above a line, 1x in bold; right is faster. */
export function RuleAxis({
  scale,
  below = false,
}: {
  scale: RuleScale /** Labels below the line. */
  below?: boolean
}) {
  return (
    <svg className="block w-full overflow-visible" style={{ height: rem(36) }} aria-hidden="true">
      <line
        x1="0"
        x2="100%"
        y1={rem(below ? 4 : 32)}
        y2={rem(below ? 4 : 32)}
        stroke="var(--color-base-content)"
      />
      {scale.minor.map((tick) => (
        <line
          key={tick}
          x1={percentOf(scale.at(tick))}
          x2={percentOf(scale.at(tick))}
          y1={rem(below ? 4 : 27)}
          y2={rem(below ? 9 : 32)}
          stroke="var(--color-base-content)"
        />
      ))}
      {scale.ticks.map((tick) => (
        <g key={tick}>
          <line
            x1={percentOf(scale.at(tick))}
            x2={percentOf(scale.at(tick))}
            y1={rem(below ? 4 : 22)}
            y2={rem(below ? 14 : 32)}
            stroke="var(--color-base-content)"
          />
          <text
            x={percentOf(scale.at(tick))}
            y={rem(below ? 28 : 14)}
            textAnchor="middle"
            className="figure"
            fontSize="0.75rem"
            fontWeight={tick === 1 ? 700 : 400}
            fill={tick === 1 ? "var(--color-base-content)" : "var(--tm-mute)"}
          >
            {compact(tick)}×
          </text>
        </g>
      ))}
    </svg>
  )
}

/** The band of materiality and the line of 1x, behind a row of the rule. */
export function RuleBand({
  scale,
  materiality,
}: {
  scale: RuleScale
  /** Smallest ratio that matters, less 1. */
  materiality: number
}) {
  // A scale that is narrower than the band shows the part of it that it holds.
  const left = Math.max(0, scale.at(1 / (1 + materiality)))
  const right = Math.min(1, scale.at(1 + materiality))
  return (
    <div
      aria-hidden="true"
      className="rule-band absolute -top-px -bottom-px bg-band"
      style={{ left: percentOf(left), width: `max(1px, ${percentOf(right - left)})` }}
    />
  )
}

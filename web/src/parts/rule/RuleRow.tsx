import type { ReactNode } from "react"
import { ratio } from "../../theme/format"
import { Jaws } from "./Jaws"
import { RuleAxis, RuleBand } from "./RuleAxis"
import type { RuleScale } from "./scale"

/** The axis over rows of one rule; `value` heads the figures at the right. */
export function RuleHead({ scale, value }: { scale: RuleScale; value?: string }) {
  return (
    <div className="rule-row border-t-0">
      <span className="rule-name" />
      <div className="rule-scale">
        <RuleAxis scale={scale} />
      </div>
      <span className="rule-value self-end text-12 text-mute">{value}</span>
    </div>
  )
}

/** One interval on a rule with a name before it and its ratio after it; narrow, under both. */
export function RuleRow({
  scale,
  row,
  call,
  materiality,
  label,
  children,
}: {
  scale: RuleScale
  /** Estimate and ends, as ratios. */
  row: { ratio: number; lo: number; hi: number }
  call: string
  /** Smallest ratio that matters, less 1. */
  materiality: number
  /** What a screen reader says of the interval. */
  label: string
  /** The name. */
  children: ReactNode
}) {
  return (
    <div className="rule-row">
      <span className="rule-name flex min-w-0 items-center gap-2">{children}</span>
      <div className="rule-scale relative h-8" title={label}>
        <RuleBand scale={scale} materiality={materiality} />
        <Jaws
          scale={scale}
          lo={row.lo}
          hi={row.hi}
          estimate={row.ratio}
          call={call}
          materiality={materiality}
          label={label}
        />
      </div>
      <span className="rule-value figure">{ratio(row.ratio)}</span>
    </div>
  )
}

/** The band of materiality, to be kept in view of a scale. */
export function bandOf(materiality: number): number[] {
  return [1 + materiality, 1 / (1 + materiality)]
}

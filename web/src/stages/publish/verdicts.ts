import type { Schemas } from "../../api/client"
import { labelOf, VERDICT } from "../../api/labels"

/** How each state of a claim is drawn; the worst of a line stands in its margin. */
export type Bar = "solid" | "hatched" | "outlined" | "dashed" | "dotted" | "double" | "accent"

type Claim = Schemas["CheckedLine"]

const VERDICTS: Record<string, { bar: Bar; weight: number }> = {
  holds: { bar: "solid", weight: 0 },
  likely: { bar: "hatched", weight: 1 },
  understated: { bar: "outlined", weight: 2 },
  "within noise": { bar: "accent", weight: 5 },
  untested: { bar: "dashed", weight: 3 },
  "not the same": { bar: "accent", weight: 6 },
  overstated: { bar: "accent", weight: 6 },
  backwards: { bar: "accent", weight: 7 },
}

const WAITING = { bar: "double", weight: 4 } as const
const NOT_READ = { bar: "dotted", weight: 3 } as const

/** What becomes of a claim: it may be said, is to be fixed, to be confirmed, or was not read. */
export type Fate = "holds" | "fix" | "confirm" | "not understood"

export function fateOf(claim: Claim): Fate {
  if (claim.status === "confirm") return "confirm"
  if (claim.status === "not understood") return "not understood"
  return claim.verdict === "holds" || claim.verdict === "likely" ? "holds" : "fix"
}

export function markOf(claim: Claim): { bar: Bar; weight: number } {
  const fate = fateOf(claim)
  if (fate === "confirm") return WAITING
  return fate === "not understood" ? NOT_READ : (VERDICTS[claim.shown] ?? NOT_READ)
}

/** The word beside a claim. */
export function wordOf(claim: Claim): string {
  const fate = fateOf(claim)
  if (fate === "confirm") return "to confirm"
  return fate === "not understood" ? "not understood" : labelOf(VERDICT, claim.shown)
}

export const BAR_CLASS: Record<Bar, string> = {
  solid: "bg-base-content",
  hatched: "hatched",
  outlined: "border border-base-content",
  dashed: "border border-dashed border-mute",
  dotted: "bar-dotted",
  double: "border-x-2 border-accent",
  accent: "bg-accent",
}

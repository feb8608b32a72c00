/** How each verdict is written and drawn; the worst of a line stands in its margin. */
export type Bar = "solid" | "hatched" | "outlined" | "dashed" | "accent"

export const VERDICTS: Record<string, { bar: Bar; weight: number }> = {
  holds: { bar: "solid", weight: 0 },
  likely: { bar: "hatched", weight: 1 },
  understated: { bar: "outlined", weight: 2 },
  "within noise": { bar: "dashed", weight: 4 },
  untested: { bar: "dashed", weight: 3 },
  asked: { bar: "dashed", weight: 3 },
  unread: { bar: "dashed", weight: 3 },
  overstated: { bar: "accent", weight: 5 },
  backwards: { bar: "accent", weight: 6 },
}

/** Whether a claim may be said as it stands. */
export function stands(verdict: string): boolean {
  return verdict === "holds" || verdict === "likely"
}

export const BAR_CLASS: Record<Bar, string> = {
  solid: "bg-base-content",
  hatched: "hatched",
  outlined: "border border-base-content",
  dashed: "border border-dashed border-mute",
  accent: "bg-accent",
}

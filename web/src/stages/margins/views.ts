/** The views of the stage, in the order in which they stand beside each other. */
export const VIEWS = [
  { id: "ladder", title: "Ladder" },
  { id: "pairs", title: "All pairs" },
  { id: "rounds", title: "Rounds" },
  { id: "fairness", title: "Fairness" },
  { id: "work", title: "Same work" },
  { id: "odd", title: "Out of line" },
] as const

export type ViewId = (typeof VIEWS)[number]["id"]

/** The view that an address means; the ladder where it means none. */
export function viewOf(name: string | undefined): ViewId {
  return VIEWS.find((view) => view.id === name)?.id ?? "ladder"
}

/** The views of the stage, in the order in which they stand beside each other. */
export const VIEWS = [
  { id: "ladder", title: "Ranking" },
  { id: "pairs", title: "All pairs" },
  { id: "race", title: "Race" },
  { id: "rounds", title: "Updates" },
  { id: "fairness", title: "Fair test?" },
  { id: "work", title: "Two apps" },
  { id: "odd", title: "Odd results" },
] as const

export type ViewId = (typeof VIEWS)[number]["id"]

/** The view that an address means; the ladder where it means none. */
export function viewOf(name: string | undefined): ViewId {
  return VIEWS.find((view) => view.id === name)?.id ?? "ladder"
}

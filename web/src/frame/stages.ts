/** The seven stages in working order; those without a path are not built yet. */
export const STAGES = [
  { id: "lineup", number: 1, name: "Line-up", path: "/s/$slug/lineup" },
  { id: "tasks", number: 2, name: "Tasks", path: "/s/$slug/tasks" },
  { id: "bench", number: 3, name: "Bench", path: "/s/$slug/bench" },
  { id: "runs", number: 4, name: "Runs", path: "/s/$slug/runs" },
  { id: "margins", number: 5, name: "Margins", path: "/s/$slug/margins" },
  { id: "picks", number: 6, name: "Picks", path: null },
  { id: "publish", number: 7, name: "Publish", path: null },
] as const

export type StageId = (typeof STAGES)[number]["id"]

/** What will stand at a stage that is not built yet, in one line. */
export const TO_COME: Partial<Record<StageId, string>> = {
  picks: "to come: which machine for this viewer, this money, and when the answer changes",
  publish: "to come: claims checked, cards, tables, report, data pack",
}

/** The seven stages in working order. */
export const STAGES = [
  { id: "lineup", number: 1, name: "Line-up", path: "/s/$slug/lineup" },
  { id: "tasks", number: 2, name: "Tasks", path: "/s/$slug/tasks" },
  { id: "bench", number: 3, name: "Bench", path: "/s/$slug/bench" },
  { id: "runs", number: 4, name: "Runs", path: "/s/$slug/runs" },
  { id: "margins", number: 5, name: "Margins", path: "/s/$slug/margins" },
  { id: "picks", number: 6, name: "Picks", path: "/s/$slug/picks" },
  { id: "publish", number: 7, name: "Publish", path: "/s/$slug/publish" },
] as const

export type StageId = (typeof STAGES)[number]["id"]

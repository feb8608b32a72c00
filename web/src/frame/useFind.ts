import { useQuery } from "@tanstack/react-query"
import { useNavigate } from "@tanstack/react-router"
import { cardsQuery } from "../api/picks"
import { lineupQuery, shootoutsQuery, tasksQuery } from "../api/queries"
import { useReading } from "../parts/Reading"
import { STAGES } from "./stages"

export type Finding = { words: string; kind: string; go: () => void }

/** Everything that the find-or-do box knows, filtered by what is typed. */
export function useFind(slug: string, text: string, flipTheme: () => void): Finding[] {
  const navigate = useNavigate()
  const lineup = useQuery(lineupQuery(slug)).data
  const tasks = useQuery(tasksQuery(slug)).data
  const shootouts = useQuery(shootoutsQuery()).data
  // Picks are only worked out for the box once somebody types in it.
  const viewers = useQuery({ ...cardsQuery(slug), enabled: text.trim() !== "" }).data
  const params = { slug }
  const reading = useReading()
  const writes: Finding[] = [
    {
      words: "Add machine",
      kind: "do",
      go: () => void navigate({ to: "/s/$slug/lineup", params, search: { focus: "add" } }),
    },
    {
      words: "Add task",
      kind: "do",
      go: () => void navigate({ to: "/s/$slug/tasks", params, search: { focus: "add" } }),
    },
    {
      words: "Import runs",
      kind: "do",
      go: () => void navigate({ to: "/s/$slug/runs", params, search: { focus: "import" } }),
    },
  ]
  const all: Finding[] = [
    ...STAGES.flatMap(({ path, name }) =>
      path ? [{ words: name, kind: "stage", go: () => void navigate({ to: path, params }) }] : [],
    ),
    ...(reading ? [] : writes),
    { words: "Make a shootout", kind: "do", go: () => void navigate({ to: "/" }) },
    { words: "Day or night", kind: "do", go: flipTheme },
    ...(tasks ?? []).map(({ task }) => ({
      words: task.name,
      kind: "margins",
      go: () => void navigate({ to: "/s/$slug/margins", params, search: { task: task.id } }),
    })),
    ...(lineup?.columns ?? []).map(({ machine }) => ({
      words: machine.name,
      kind: "machine",
      go: () => void navigate({ to: "/s/$slug/lineup", params, search: { machine: machine.id } }),
    })),
    ...(viewers ?? []).map(({ viewer }) => ({
      words: viewer.name,
      kind: "viewer",
      go: () => void navigate({ to: "/s/$slug/picks", params, search: { viewer: viewer.id } }),
    })),
    ...(shootouts ?? []).map((each) => ({
      words: each.name,
      kind: "shootout",
      go: () => void navigate({ to: "/s/$slug/lineup", params: { slug: each.slug } }),
    })),
  ]
  const wanted = text.trim().toLowerCase().split(/\s+/)
  return all
    .filter(({ words }) => wanted.every((part) => words.toLowerCase().includes(part)))
    .slice(0, 9)
}

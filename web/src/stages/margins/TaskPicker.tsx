import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { openCallsQuery } from "../../api/margins"

/** The heading of the stage: the chosen task, or the mix; a list to choose from. */
export function TaskPicker({
  slug,
  view,
  onChoose,
}: {
  slug: string
  view: Schemas["LadderView"]
  onChoose: (key: string) => void
}) {
  // Counting them takes a look at every task: the ladder does not wait for it.
  const calls = useQuery(openCallsQuery(slug)).data ?? []
  const open = new Map(calls.map((each) => [each.key, each.open_calls]))
  return (
    <select
      aria-label="Task"
      className="max-w-full truncate bg-transparent font-head text-21 font-bold"
      value={view.key}
      onChange={(event) => onChoose(event.target.value)}
    >
      {view.choices.map((choice) => (
        <option key={choice.key} value={choice.key}>
          {choice.name}
          {open.get(choice.key) ? ` (${open.get(choice.key)} undecided)` : ""}
        </option>
      ))}
      <option value="mix">{view.key === "mix" ? view.title : "All tasks, equal mix"}</option>
    </select>
  )
}

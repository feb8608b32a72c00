import type { Schemas } from "../../api/client"

/** The heading of the stage: the chosen task, or the mix; a list to choose from. */
export function TaskPicker({
  view,
  onChoose,
}: {
  view: Schemas["LadderView"]
  onChoose: (key: string) => void
}) {
  return (
    <select
      aria-label="Task"
      className="max-w-full truncate bg-transparent font-head text-[21px] font-bold"
      value={view.key}
      onChange={(event) => onChoose(event.target.value)}
    >
      {view.choices.map((choice) => (
        <option key={choice.key} value={choice.key}>
          {choice.name}
          {choice.open_calls > 0 ? ` (${choice.open_calls} open)` : ""}
        </option>
      ))}
      <option value="mix">{view.key === "mix" ? view.title : "All tasks, equal mix"}</option>
    </select>
  )
}

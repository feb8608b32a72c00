import type { Schemas } from "../../api/client"
import { labelOf, RUN_STATUS } from "../../api/labels"
import { EVERYTHING, type Filter, STATES } from "./cells"

/** Narrows the book to a setup, task, round or state; nothing is left out of any figure. */
export function RunFilter({
  filter,
  setups,
  tasks,
  rounds,
  flagged,
  onFilter,
}: {
  filter: Filter
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  rounds: Schemas["Round"][]
  /** How many runs are flagged. */
  flagged: number
  onFilter: (filter: Filter) => void
}) {
  const states = STATES.map((state) => ({
    id: state,
    name: state === "flagged" ? `odd (${flagged})` : labelOf(RUN_STATUS, state),
  }))
  const parts = [
    ["setup", "all setups", setups.map(({ id, label }) => ({ id, name: label }))],
    ["task", "all tasks", tasks],
    ["round", "all rounds", rounds],
    ["state", "all runs", states],
  ] as const
  const narrowed = Object.values(filter).some(Boolean)
  return (
    <div className="mb-3 flex flex-wrap items-center gap-2 text-13">
      <span className="text-mute">show</span>
      {parts.map(([part, all, choices]) => (
        <select
          key={part}
          aria-label={`Show only one ${part}`}
          className={`max-w-48 bg-transparent underline ${filter[part] ? "font-bold" : "text-mute"}`}
          value={filter[part]}
          onChange={(event) => onFilter({ ...filter, [part]: event.target.value })}
        >
          <option value="">{all}</option>
          {choices.map(({ id, name }) => (
            <option key={id} value={id}>
              {name}
            </option>
          ))}
        </select>
      ))}
      {narrowed && (
        <button type="button" className="underline" onClick={() => onFilter(EVERYTHING)}>
          show all
        </button>
      )}
    </div>
  )
}

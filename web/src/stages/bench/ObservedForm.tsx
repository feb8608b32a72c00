import { type ReactNode, useState } from "react"
import type { Schemas } from "../../api/client"
import { Field } from "../../parts/Field"

/** What forms of observations are given: where something can be seen, and where it likely was. */
export type Observed = {
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  /** Setup and task of the lane that letters act on, if any. */
  selected: { setupId: string; taskId: string } | null
  onDone: () => void
}

/** A form for something that was seen on a setup and a task; its own fields stand inside. */
export function ObservedForm({
  observed: { setups, tasks, selected, onDone },
  blocked,
  onNote,
  children,
}: {
  observed: Observed
  /** It cannot be noted as it stands, or is on its way. */
  blocked: boolean
  onNote: (setupId: string, taskId: string) => void
  children: ReactNode
}) {
  const [setup, setSetup] = useState(selected?.setupId ?? setups[0]?.id ?? "")
  const [task, setTask] = useState(selected?.taskId ?? tasks[0]?.id ?? "")
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (!blocked) onNote(setup, task)
      }}
      className="mt-3 flex flex-wrap items-end gap-2"
    >
      <Choice
        label="Setup"
        value={setup}
        options={setups.map((each) => [each.id, each.label])}
        onChoose={setSetup}
      />
      <Choice
        label="Task"
        value={task}
        options={tasks.map((each) => [each.id, each.name])}
        onChoose={setTask}
      />
      {children}
      <button type="submit" className="btn btn-primary btn-sm" disabled={blocked}>
        Note it
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
    </form>
  )
}

/** A labelled choice of one among few. */
export function Choice({
  label,
  value,
  options,
  onChoose,
}: {
  label: string
  value: string
  options: [string, string][]
  onChoose: (value: string) => void
}) {
  return (
    <div className="w-48">
      <Field label={label}>
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={value}
            onChange={(event) => onChoose(event.target.value)}
          >
            {options.map(([key, words]) => (
              <option key={key} value={key}>
                {words}
              </option>
            ))}
          </select>
        )}
      </Field>
    </div>
  )
}

import type { Schemas } from "../../api/client"
import { Field } from "../../parts/Field"

/** Chooses the setup and the task that something was seen on. */
export function ObservedOn({
  setups,
  tasks,
  setup,
  task,
  onSetup,
  onTask,
}: {
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  setup: string
  task: string
  onSetup: (id: string) => void
  onTask: (id: string) => void
}) {
  return (
    <>
      <Choice
        label="Setup"
        value={setup}
        options={setups.map((each) => [each.id, each.label])}
        onChoose={onSetup}
      />
      <Choice
        label="Task"
        value={task}
        options={tasks.map((each) => [each.id, each.name])}
        onChoose={onTask}
      />
    </>
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

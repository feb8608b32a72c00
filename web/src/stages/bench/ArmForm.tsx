import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { Field } from "../../parts/Field"

/** Chooses what the lane times. */
export function ArmForm({
  setups,
  tasks,
  onArm,
}: {
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  onArm: (setupId: string, taskId: string) => void
}) {
  const [setup, setSetup] = useState(setups[0]?.id ?? "")
  const [task, setTask] = useState(tasks[0]?.id ?? "")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (document.activeElement instanceof HTMLElement) document.activeElement.blur()
    onArm(setup, task)
  }
  return (
    <form onSubmit={submit} className="flex max-w-3xl flex-wrap items-end gap-3">
      <div className="w-56">
        <Field label="Setup on the desk">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-full bg-page"
              value={setup}
              onChange={(event) => setSetup(event.target.value)}
            >
              {setups.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.label}
                </option>
              ))}
            </select>
          )}
        </Field>
      </div>
      <div className="w-72">
        <Field label="Task">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-full bg-page"
              value={task}
              onChange={(event) => setTask(event.target.value)}
            >
              {tasks.map((each) => (
                <option key={each.id} value={each.id}>
                  {each.name}
                </option>
              ))}
            </select>
          )}
        </Field>
      </div>
      <button type="submit" className="btn btn-primary btn-sm">
        Arm the lane
      </button>
    </form>
  )
}

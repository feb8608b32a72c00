import { type ReactNode, useState } from "react"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { Field, TextField } from "../../parts/Field"

/** Where something was seen: on a setup, in a task, or in an app without one. */
export type Place = { setupId: string; taskId: string | null; app?: string | null }

/** What forms of observations are given: where something can be seen, and where it likely was. */
export type Observed = {
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  /** Setup and task of the lane that letters act on, if any. */
  selected: Place | null
  onDone: () => void
}

/** A form for something that was seen on a setup and a task; its own fields stand inside. */
export function ObservedForm({
  observed: { setups, tasks, selected, onDone },
  busy,
  needs,
  onNote,
  children,
}: {
  observed: Observed
  /** It is on its way. */
  busy: boolean
  /** Why it cannot be noted as it stands. */
  needs: string | false
  onNote: (where: { setup_id: string; task_id: string | null; app: string | null }) => void
  children: ReactNode
}) {
  const [setup, setSetup] = useState(selected?.setupId ?? setups[0]?.id ?? "")
  const [task, setTask] = useState(selected ? (selected.taskId ?? "") : (tasks[0]?.id ?? ""))
  const [app, setApp] = useState(selected?.app ?? "")
  const apps = [...new Set(tasks.map((each) => each.app))]
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault()
        if (!busy && !needs)
          onNote({ setup_id: setup, task_id: task || null, app: (!task && app.trim()) || null })
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
        options={[...tasks.map((each): [string, string] => [each.id, each.name]), ["", "none"]]}
        onChoose={setTask}
      />
      {!task && (
        <div className="w-40">
          <TextField
            label="App, if any"
            value={app}
            onText={setApp}
            list="apps-of-the-log"
            maxLength={120}
          />
          <datalist id="apps-of-the-log">
            {apps.map((each) => (
              <option key={each} value={each} />
            ))}
          </datalist>
        </div>
      )}
      {children}
      <ActButton type="submit" className="btn btn-primary btn-sm" busy={busy} needs={needs}>
        Note it
      </ActButton>
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

import { useState } from "react"
import type { Schemas } from "../../api/client"
import { TextField } from "../Field"
import type { Sheet } from "./useSheet"

/** What new tasks are: in which app, on which timeline, and whether they are timed or counted. */
export function NewTasks({ preview, sheet }: { preview: Schemas["SheetPreview"]; sheet: Sheet }) {
  const tasks = preview.tasks.filter((task) => task.new)
  const first = tasks.find((task) => task.app)?.app
  const only = preview.apps.length === 1 ? (preview.apps[0] ?? "") : ""
  const [app, setApp] = useState(first ?? only)
  if (tasks.length === 0) return null
  const names = tasks.map((task) => task.name)
  const asked = tasks.filter((task) => task.question !== null)
  return (
    <div className="mt-3 border-l-4 border-base-content pl-3">
      <div className="flex flex-wrap items-end gap-3">
        <p className="max-w-xl">
          <strong>{names.length === 1 ? "A new task" : `${names.length} new tasks`}:</strong>{" "}
          {names.join(", ")}.
        </p>
        <form
          className="w-56"
          onSubmit={(event) => {
            event.preventDefault()
            sheet.setApp(names, app)
          }}
        >
          <TextField
            label="Done in which app?"
            value={app}
            onText={setApp}
            maxLength={120}
            placeholder="app not named"
            list="known-apps"
            onBlur={() => app !== (first ?? only) && sheet.setApp(names, app)}
          />
          <datalist id="known-apps">
            {preview.apps.map((each) => (
              <option key={each} value={each} />
            ))}
          </datalist>
        </form>
      </div>
      {asked.map((task) => (
        <p key={task.name} className="mt-2">
          <strong className="text-accent">{task.question}</strong>{" "}
          <button
            type="button"
            className="btn btn-xs mx-1"
            onClick={() => sheet.setTask(task.name, { measure: "time" })}
          >
            seconds
          </button>
          <button
            type="button"
            className="btn btn-xs mx-1"
            onClick={() => sheet.setTask(task.name, { measure: "amount" })}
          >
            an amount
          </button>
        </p>
      ))}
      <details className="mt-2 text-13">
        <summary className="text-mute">Each task by itself</summary>
        <ul>
          {tasks.map((task) => (
            <li key={task.name} className="mt-1 flex flex-wrap items-end gap-3">
              <span className="w-40 pb-1 break-words">{task.name}</span>
              <OneTask key={`${task.app} ${task.timeline}`} task={task} sheet={sheet} />
            </li>
          ))}
        </ul>
      </details>
    </div>
  )
}

function OneTask({ task, sheet }: { task: Schemas["SheetTask"]; sheet: Sheet }) {
  const [app, setApp] = useState(task.app)
  const [timeline, setTimeline] = useState(task.timeline)
  return (
    <>
      <div className="w-40">
        <TextField
          label={`App of ${task.name}`}
          value={app}
          onText={setApp}
          maxLength={120}
          onBlur={() => app !== task.app && sheet.setTask(task.name, { app })}
        />
      </div>
      <div className="w-40">
        <TextField
          label={`Timeline of ${task.name}`}
          value={timeline}
          onText={setTimeline}
          maxLength={120}
          onBlur={() => timeline !== task.timeline && sheet.setTask(task.name, { timeline })}
        />
      </div>
      <span className="pb-1 text-mute">
        {task.measure === "time" ? "timed" : `counted${task.unit ? `, in ${task.unit}` : ""}`}
      </span>
    </>
  )
}

import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useId, useState } from "react"
import { useAddTask } from "../../api/changes"
import { problemOf, type Schemas } from "../../api/client"
import { taskWordsQuery } from "../../api/tasks"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { readLength } from "./readLength"

type Operation = NonNullable<Schemas["NewTask"]["operation"]>

/** Adds a task; app and timeline are made where they are new. */
export function AddTask({
  slug,
  sheets,
  onAdded,
  onClose,
}: {
  slug: string
  sheets: Schemas["TaskSheet"][]
  onAdded: (id: string) => void
  /** Left out where there is nothing to go back to. */
  onClose: (() => void) | undefined
}) {
  const [name, setName] = useState("")
  const [app, setApp] = useState("")
  const [timeline, setTimeline] = useState("")
  const [length, setLength] = useState("")
  const [measure, setMeasure] = useState<"time" | "amount">("time")
  const [unit, setUnit] = useState("")
  const [operation, setOperation] = useState<Operation>("export")
  const [preset, setPreset] = useState("")
  const words = useQuery(taskWordsQuery).data
  const add = useAddTask(slug)
  const problem = problemOf(add.error)
  const apps = useId()
  const timelines = useId()
  const seconds = length.trim() === "" ? null : readLength(length)
  const bad = length.trim() !== "" && seconds === null
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad || !name.trim() || !app.trim()) return
    const watched = operation === "playback"
    const body: Schemas["NewTask"] = {
      name,
      app,
      operation,
      measure: watched ? "observation" : measure,
    }
    const settings = words?.presets.find((each) => each.name === preset)?.settings
    if (settings) body.settings = settings
    if (timeline.trim()) body.timeline = timeline
    if (timeline.trim() && seconds !== null) body.timeline_length_s = seconds
    if (!watched && measure === "time" && seconds !== null)
      Object.assign(body, { work: seconds, unit: "s" })
    if (measure === "amount" && unit.trim()) body.unit = unit
    add.mutate(body, { onSuccess: (task) => onAdded(task.id) })
  }
  return (
    <form onSubmit={submit} className="grid max-w-xl grid-cols-1 gap-3 sm:grid-cols-2">
      <div className="sm:col-span-2">
        <TextField
          label="Name of the task"
          value={name}
          onText={setName}
          maxLength={200}
          placeholder="Holiday film, export UHD"
          error={problem?.field === "name" ? problem.detail : null}
          autoFocus
        />
      </div>
      <TextField label="App" value={app} onText={setApp} list={apps} maxLength={120} />
      <datalist id={apps}>
        {[...new Set(sheets.map((sheet) => sheet.task.app))].map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
      <Field label="Operation">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={operation}
            onChange={(event) => setOperation(event.target.value as Operation)}
          >
            {words?.operations.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </select>
        )}
      </Field>
      <Field
        label="What a run yields"
        hint={operation === "playback" ? "playback is looked at, not timed" : null}
      >
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={measure}
            disabled={operation === "playback"}
            onChange={(event) => setMeasure(event.target.value === "amount" ? "amount" : "time")}
          >
            <option value="time">elapsed time, less is better</option>
            <option value="amount">an amount, more is better</option>
          </select>
        )}
      </Field>
      <TextField
        label="Timeline, if any"
        value={timeline}
        onText={setTimeline}
        list={timelines}
        maxLength={120}
      />
      <datalist id={timelines}>
        {[...new Set(sheets.map((sheet) => sheet.task.timeline))].map(
          (each) => each && <option key={each} value={each} />,
        )}
      </datalist>
      {measure === "time" ? (
        <TextField
          label="Its length"
          value={length}
          onText={setLength}
          placeholder="11:00"
          hint="gives speed against real time"
          error={bad ? "Type it like 11:00 or 660 s." : null}
        />
      ) : (
        <TextField label="Unit" value={unit} onText={setUnit} placeholder="points" maxLength={40} />
      )}
      <Field label="Export settings like" hint="every field can be changed afterwards">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={preset}
            onChange={(event) => setPreset(event.target.value)}
          >
            <option value="">none yet</option>
            {words?.presets.map((each) => (
              <option key={each.name}>{each.name}</option>
            ))}
          </select>
        )}
      </Field>
      <div className="flex gap-2 sm:col-span-2">
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={!name.trim() || !app.trim() || add.isPending}
        >
          Add task
        </button>
        {onClose && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
            Cancel
          </button>
        )}
      </div>
      {problem?.field !== "name" && <ProblemNote error={add.error} />}
    </form>
  )
}

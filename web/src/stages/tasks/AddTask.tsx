import { type FormEvent, useId, useState } from "react"
import { useAddTask } from "../../api/changes"
import { problemOf, type Schemas } from "../../api/client"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { readLength } from "./readLength"

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
  const add = useAddTask(slug)
  const problem = problemOf(add.error)
  const apps = useId()
  const timelines = useId()
  const seconds = length.trim() === "" ? null : readLength(length)
  const bad = length.trim() !== "" && seconds === null
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad || !name.trim() || !app.trim()) return
    const body: Schemas["NewTask"] = { name, app, measure }
    if (timeline.trim()) body.timeline = timeline
    if (timeline.trim() && seconds !== null) body.timeline_length_s = seconds
    if (measure === "time" && seconds !== null) Object.assign(body, { work: seconds, unit: "s" })
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
      <Field label="What a run yields">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={measure}
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

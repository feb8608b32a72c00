import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import type { Chosen } from "../../lanes/watch/watches"
import { ChoiceField } from "../../parts/ChoiceField"
import { focusOn } from "../../reach/focus"
import { FolderForm } from "./FolderForm"

const TIMED_BY = [
  { value: "press", words: "my presses" },
  { value: "folder", words: "its export folder" },
]

/** Chooses what a lane times, and what it goes on with. */
export function ArmForm({
  setups,
  tasks,
  onArm,
  onWatch,
  onCancel,
}: {
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  /** With the task, and those that follow it. */
  onArm: (setupId: string, taskIds: string[]) => void
  /** With the folder that the export is written into. */
  onWatch: (setupId: string, taskIds: string[], chosen: Chosen) => Promise<void>
  onCancel: (() => void) | undefined
}) {
  const [setup, setSetup] = useState(setups[0]?.id ?? "")
  const [task, setTask] = useState(tasks[0]?.id ?? "")
  const [queue, setQueue] = useState<string[]>([])
  const [byFolder, setByFolder] = useState(false)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (byFolder) return
    onTimer()
    onArm(setup, [task, ...queue])
  }
  return (
    <form onSubmit={submit} className="flex max-w-3xl flex-wrap items-end gap-3">
      <div className="w-56">
        <ChoiceField
          label="Machine"
          value={setup}
          options={setups.map((each) => ({ value: each.id, words: each.label }))}
          onValue={setSetup}
        />
      </div>
      <div className="w-72">
        <ChoiceField
          label="Task"
          value={task}
          options={tasks.map((each) => ({ value: each.id, words: each.name }))}
          onValue={setTask}
        />
      </div>
      <div className="w-44">
        <ChoiceField
          label="Timed by"
          value={byFolder ? "folder" : "press"}
          options={TIMED_BY}
          onValue={(value) => setByFolder(value === "folder")}
        />
      </div>
      {!byFolder && (
        <button type="submit" className="btn btn-primary btn-sm">
          Ready the timer
        </button>
      )}
      {onCancel && (
        <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
          Cancel
        </button>
      )}
      <Queue tasks={tasks} queue={queue} onQueue={setQueue} />
      {byFolder && <FolderForm onWatch={(chosen) => onWatch(setup, [task, ...queue], chosen)} />}
    </form>
  )
}

/**
 * The focus goes to the timer that comes, and to none of its buttons: there Space starts the next
 * one that is ready, as it says.
 */
function onTimer(): void {
  const timers = () => document.querySelectorAll("[data-timer]")
  const known = timers().length
  focusOn(() => (timers().length > known ? ([...timers()].at(-1) ?? null) : null))
}

/** Tasks that follow the first one on the lane; one may come twice. */
function Queue({
  tasks,
  queue,
  onQueue,
}: {
  tasks: Schemas["Task"][]
  queue: string[]
  onQueue: (taskIds: string[]) => void
}) {
  return (
    <div className="w-full">
      <select
        aria-label="A task that follows"
        className="bg-transparent text-13 text-mute"
        value=""
        onChange={(event) => onQueue([...queue, event.target.value])}
      >
        <option value="">then …</option>
        {tasks.map((each) => (
          <option key={each.id} value={each.id}>
            {each.name}
          </option>
        ))}
      </select>
      {queue.length > 0 && (
        <ol className="ml-5 list-decimal text-13">
          {queue.map((id, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a task may stand in the queue twice
            <li key={place}>
              {tasks.find((each) => each.id === id)?.name}{" "}
              <button
                type="button"
                className="text-mute underline"
                onClick={() => onQueue(queue.filter((_, at) => at !== place))}
              >
                remove
              </button>
            </li>
          ))}
        </ol>
      )}
    </div>
  )
}

import { useId, useState } from "react"
import { clock } from "../../theme/format"
import { type Draft, partOf, withPart } from "./draft"
import { type PickTask, readClock } from "./units"

/** The time of one run that is fast enough, task by task. */
export function AcceptedTimes({
  tasks,
  draft,
  error,
  onDraft,
}: {
  tasks: PickTask[]
  draft: Draft
  error: string | null
  onDraft: (next: Draft) => void
}) {
  const timed = tasks.filter((task) => task.measure === "time")
  const set = timed.filter((task) => partOf(draft, task.id).accepted_s !== null)
  const [asked, setAsked] = useState<string[]>([])
  const shown = timed.filter((task) => set.includes(task) || asked.includes(task.id))
  const left = timed.filter((task) => !shown.includes(task))
  return (
    <section aria-label="Fast enough" className="mt-5">
      <h2 className="text-14">Fast enough</h2>
      {error && (
        <p role="alert" className="text-13 text-accent">
          {error}
        </p>
      )}
      <div className="mt-1 space-y-1.5">
        {shown.map((task) => (
          <AcceptedTime
            key={task.id}
            name={task.name}
            seconds={partOf(draft, task.id).accepted_s}
            onSeconds={(accepted_s) => onDraft(withPart(draft, task.id, { accepted_s }))}
          />
        ))}
      </div>
      {left.length > 0 && (
        <select
          aria-label="Accept a time for a task"
          className="select select-xs mt-2 w-full bg-page text-13"
          value=""
          onChange={(event) => setAsked((before) => [...before, event.target.value])}
        >
          <option value="">Accept a time for…</option>
          {left.map((task) => (
            <option key={task.id} value={task.id}>
              {task.name}
            </option>
          ))}
        </select>
      )}
    </section>
  )
}

function AcceptedTime({
  name,
  seconds,
  onSeconds,
}: {
  name: string
  seconds: number | null
  onSeconds: (seconds: number | null) => void
}) {
  const [text, setText] = useState(seconds === null ? "" : clock(seconds))
  const [wrong, setWrong] = useState(false)
  const type = (typed: string) => {
    setText(typed)
    const read = typed.trim() === "" ? null : readClock(typed)
    if (typed.trim() !== "" && (read === null || read <= 0)) return
    setWrong(false)
    onSeconds(read)
  }
  const leave = () => setWrong(text.trim() !== "" && !((readClock(text) ?? 0) > 0))
  const note = useId()
  return (
    <label className="block text-13">
      <span className="flex items-baseline gap-2">
        <span className="min-w-0 flex-1 break-words">{name}</span>
        <input
          className="figure h-7 w-16 border-b border-line bg-transparent text-right"
          placeholder="5:00"
          aria-invalid={wrong || undefined}
          aria-describedby={wrong ? note : undefined}
          onBlur={leave}
          value={text}
          onChange={(event) => type(event.target.value)}
        />
      </span>
      {wrong && (
        <span id={note} role="alert" className="block text-accent">
          Write minutes and seconds, such as 5:00.
        </span>
      )}
    </label>
  )
}

import { useState } from "react"
import { type Draft, partOf, sharesOf, withPart, withShare } from "./draft"
import { NumberLine } from "./NumberLine"
import { endOf, type PickTask, recount, unitOf, unitsOf } from "./units"

/** What the viewer does: work a week by task, or a mix whose shares always sum to 100. */
export function WorkRows({
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
  const [asked, setAsked] = useState<string[]>([])
  const timed = tasks.filter((task) => !draft.weekly || task.measure === "time")
  const ids = timed.map((task) => task.id)
  const shares = sharesOf(draft, ids)
  const shown = timed.filter(
    (task) =>
      asked.includes(task.id) ||
      (draft.weekly ? partOf(draft, task.id).amount !== 0 : (shares.get(task.id) ?? 0) > 0),
  )
  const left = timed.filter((task) => !shown.includes(task))
  return (
    <section aria-label="Work">
      <WhatCounts weekly={draft.weekly} onWeekly={(weekly) => onDraft({ ...draft, weekly })} />
      {error && (
        <p role="alert" className="mb-2 text-13 text-accent">
          {error}
        </p>
      )}
      <div className="space-y-2.5">
        {shown.map((task) =>
          draft.weekly ? (
            <AmountRow key={task.id} task={task} draft={draft} onDraft={onDraft} />
          ) : (
            <NumberLine
              key={task.id}
              label={task.name}
              unit="%"
              max={100}
              value={String(Math.round(1000 * (shares.get(task.id) ?? 0)) / 10)}
              onChange={(share) => {
                const part = Math.min(Math.max(Number(share ?? 0) / 100, 0), 1)
                // A task that is moved to nothing stays in sight.
                setAsked((before) => [...new Set([...before, task.id])])
                onDraft(withShare(draft, ids, task.id, part))
              }}
            />
          ),
        )}
      </div>
      {left.length > 0 && (
        <select
          aria-label="Add a task to the work"
          className="select select-xs mt-2 w-full bg-page text-13"
          value=""
          onChange={(event) => setAsked((before) => [...before, event.target.value])}
        >
          <option value="">Add a task…</option>
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

function AmountRow({
  task,
  draft,
  onDraft,
}: {
  task: PickTask
  draft: Draft
  onDraft: (next: Draft) => void
}) {
  const part = partOf(draft, task.id)
  const unit = unitOf(task, part)
  const shown = part.amount / unit.size
  const units = unitsOf(task)
  return (
    <NumberLine
      label={task.name}
      unit={unit.name}
      max={endOf(shown, unit.name === "min of video" ? 60 : unit.name === "times" ? 10 : 100)}
      step={unit.name === "times" ? 0.5 : 1}
      value={String(Number(shown.toFixed(4)))}
      onChange={(amount) =>
        onDraft(withPart(draft, task.id, { amount: Number(amount ?? 0) * unit.size }))
      }
    >
      {units.length > 1 ? (
        <select
          aria-label={`Unit of ${task.name}`}
          className="h-6 w-[5.5rem] bg-transparent text-12 text-mute"
          value={part.by_run ? "times" : "work"}
          onChange={(event) =>
            onDraft(withPart(draft, task.id, recount(task, part, event.target.value === "times")))
          }
        >
          {units.map((each) => (
            <option key={each.name} value={each.by_run ? "times" : "work"}>
              {each.by_run ? "times" : each.name}
            </option>
          ))}
        </select>
      ) : null}
    </NumberLine>
  )
}

/** Whether work in a week counts, or a mix. */
function WhatCounts({
  weekly,
  onWeekly,
}: {
  weekly: boolean
  onWeekly: (weekly: boolean) => void
}) {
  return (
    <div className="mb-2 flex gap-4 text-13" role="radiogroup" aria-label="What counts">
      {[
        { weekly: true, title: "Amounts per week" },
        { weekly: false, title: "Shares in %" },
      ].map((way) => (
        <label key={way.title} className="flex items-center gap-1.5">
          <input
            type="radio"
            name="what-counts"
            className="radio radio-xs"
            checked={weekly === way.weekly}
            onChange={() => onWeekly(way.weekly)}
          />
          {way.title}
        </label>
      ))}
    </div>
  )
}

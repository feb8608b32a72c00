import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { planSitting, runsQuery } from "../../api/queries"
import type { Bench } from "../../lanes/bench"
import { type Desk, MOST_LANES } from "../../lanes/desk"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useKept } from "../../parts/useKept"
import { SPOKEN } from "../../reach/spoken"
import { count, readNumber, readWhole } from "../../theme/format"
import { type Counts, countRuns, doneOf, readyOf } from "./sitting"

type Plan = { view: Schemas["SittingView"]; before: Counts; beside: boolean }

/** What to run in the time there is: a whole session, worked off run by run. */
export function SittingPlan({ slug, bench, desk }: { slug: string; bench: Bench; desk: Desk }) {
  const [text, setText] = useState("90")
  const [changeText, setChangeText] = useState("5")
  const [beside, setBeside] = useState(true)
  const [plan, keep, drop] = useKept<Plan | null>(`session of ${slug}`, null)
  const [error, setError] = useState<unknown>(null)
  const book = useQuery(runsQuery(slug)).data
  const typed = readWhole(text) ?? Number.NaN
  const change = readNumber(changeText) ?? Number.NaN
  const bad = !(typed > 0 && typed <= 1440 && change >= 0 && change <= 600) || !book
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad) return
    const before = countRuns(book.runs.map(({ run }) => run))
    planSitting(slug, { minutes: typed, change_over: change, side_by_side: beside })
      .then((view) => {
        setError(null)
        keep(() => ({ view, before, beside }))
      })
      .catch(setError)
  }
  return (
    <section aria-label="Plan a session" className="max-w-3xl">
      <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
        <div className="w-40">
          <TextField label="Minutes you have" value={text} onText={setText} inputMode="numeric" />
        </div>
        <div className="w-52">
          <TextField
            label="Minutes to swap machines"
            value={changeText}
            onText={setChangeText}
            inputMode="decimal"
          />
        </div>
        <label className="flex h-8 items-center gap-2 text-13">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={beside}
            onChange={(event) => setBeside(event.target.checked)}
          />
          machines run side by side
        </label>
        <ActButton
          type="submit"
          className="btn btn-sm"
          needs={bad && "Needs minutes, up to 1440, and up to 600 between machines."}
        >
          Plan this session
        </ActButton>
      </form>
      <ProblemNote error={error} />
      {plan && book && (
        <Planned
          plan={plan}
          now={countRuns(book.runs.map(({ run }) => run))}
          bench={bench}
          desk={desk}
          onDrop={drop}
        />
      )}
    </section>
  )
}

/** The plan as it was made, with what is done, and timers for what can stand now. */
function Planned({
  plan,
  now,
  bench,
  desk,
  onDrop,
}: {
  plan: Plan
  now: Counts
  bench: Bench
  desk: Desk
  onDrop: () => void
}) {
  const { view, before, beside } = plan
  const done = doneOf(view.runs, before, now)
  const made = done.filter(Boolean).length
  const free = readyOf(view.runs, done).filter(
    ([id]) => !desk.lanes.some((lane) => lane.setupId === id),
  )
  return (
    <>
      <p className="mt-2" {...SPOKEN}>
        {view.runs.length > 0 && (
          <strong>
            {made > 0 && `${made} of `}
            {count(view.runs.length, "run")}
            {made > 0 ? " done. " : ` in ${Math.round(view.minutes)} min`}
            {made === 0 &&
              (view.change_overs > 0 ? `, ${count(view.change_overs, "swap")}. ` : ". ")}
          </strong>
        )}
        {made < view.runs.length || view.runs.length === 0
          ? view.says
          : "This session is done: plan the next one."}
      </p>
      <PlannedRuns runs={view.runs} done={done} beside={beside} />
      <div className="mt-2 flex flex-wrap gap-2">
        {free.length > 0 && desk.lanes.length < MOST_LANES && (
          <button
            type="button"
            className="btn btn-sm"
            onClick={() => {
              for (const [setupId, tasks] of free) bench.add(setupId, tasks)
            }}
          >
            Ready {count(free.length, "timer")}
          </button>
        )}
        {view.runs.length > 0 && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={onDrop}>
            Put this plan away
          </button>
        )}
      </div>
    </>
  )
}

/** The runs of a session in their order; those that are done are ticked. */
function PlannedRuns({
  runs,
  done,
  beside,
}: {
  runs: Schemas["SittingView"]["runs"]
  done: boolean[]
  /** Several may begin at once: each says when. */
  beside: boolean
}) {
  return (
    <ol className="mt-1 text-13">
      {runs.map((run, place) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: the same run may come twice
          key={place}
          className={`flex gap-3 border-b border-line py-0.5 ${done[place] ? "text-mute" : ""}`}
        >
          <span className="figure w-6 text-right text-mute">
            {done[place] ? <span title="done">✓</span> : place + 1}
          </span>
          <span className="min-w-0 flex-1 break-words">
            <strong>{run.setup}</strong> · {run.task}
            {done[place] && <span className="sr-only">, done</span>}
            {run.change_over && !done[place] && (
              <span className="text-accent"> · swap the machine first</span>
            )}
          </span>
          {beside && (
            <span className="figure text-mute">
              {run.starts_min === 0 ? "at once" : `after ${run.starts_min.toFixed(0)} min`}
            </span>
          )}
          <span className="figure w-14 text-right text-mute">{run.minutes.toFixed(0)} min</span>
        </li>
      ))}
    </ol>
  )
}

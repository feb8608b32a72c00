import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { sittingQuery } from "../../api/queries"
import type { Bench } from "../../lanes/bench"
import { type Desk, MOST_LANES } from "../../lanes/desk"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { count, readNumber } from "../../theme/format"

/** What to run in the time there is: a whole sitting, which can be put on the lanes. */
export function SittingPlan({ slug, bench, desk }: { slug: string; bench: Bench; desk: Desk }) {
  const [text, setText] = useState("90")
  const [changeText, setChangeText] = useState("5")
  const [asked, setAsked] = useState<{ minutes: number; change: number } | null>(null)
  const { data, error } = useQuery(sittingQuery(slug, asked?.minutes ?? null, asked?.change ?? 5))
  const typed = Number(text.trim())
  const change = readNumber(changeText) ?? Number.NaN
  const bad = !(typed > 0 && typed <= 1440 && change >= 0 && change <= 600)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!bad) setAsked({ minutes: typed, change })
  }
  const bySetup = new Map<string, string[]>()
  // What needs a change-over cannot stand there yet: its parts are in another setup.
  const later = new Set(data?.runs.filter((run) => run.change_over).map((run) => run.setup_id))
  for (const run of data?.runs ?? []) {
    if (later.has(run.setup_id)) continue
    bySetup.set(run.setup_id, [...(bySetup.get(run.setup_id) ?? []), run.task_id])
  }
  const free = [...bySetup].filter(([id]) => !desk.lanes.some((lane) => lane.setupId === id))
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
        <button type="submit" className="btn btn-sm" disabled={bad}>
          Plan this session
        </button>
      </form>
      <ProblemNote error={error} />
      {data && (
        <>
          <p className="mt-2">
            {data.runs.length > 0 && (
              <strong>
                {count(data.runs.length, "run")} in {Math.round(data.minutes)} min
                {data.change_overs > 0 && `, ${count(data.change_overs, "swap")}`}.{" "}
              </strong>
            )}
            {data.says}
          </p>
          <PlannedRuns runs={data.runs} />
          {free.length > 0 && desk.lanes.length < MOST_LANES && (
            <button
              type="button"
              className="btn btn-sm mt-2"
              onClick={() => {
                for (const [setupId, tasks] of free) bench.add(setupId, tasks)
              }}
            >
              Ready {count(free.length, "timer")}
            </button>
          )}
        </>
      )}
    </section>
  )
}

/** The runs of a sitting in their order. */
function PlannedRuns({ runs }: { runs: Schemas["SittingView"]["runs"] }) {
  return (
    <ol className="mt-1 text-[13px]">
      {runs.map((run, place) => (
        <li
          // biome-ignore lint/suspicious/noArrayIndexKey: the same run may come twice
          key={place}
          className="flex gap-3 border-b border-line py-0.5"
        >
          <span className="figure w-6 text-right text-mute">{place + 1}</span>
          <span className="min-w-0 flex-1 break-words">
            <strong>{run.setup}</strong> · {run.task}
            {run.change_over && <span className="text-accent"> · swap the machine first</span>}
          </span>
          <span className="figure text-mute">{run.minutes.toFixed(0)} min</span>
        </li>
      ))}
    </ol>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useState } from "react"
import { observationsQuery } from "../../api/bench"
import type { Schemas } from "../../api/client"
import { count, moment } from "../../theme/format"
import { TrialForm } from "./TrialForm"
import { TroubleForm } from "./TroubleForm"

/** What is seen between runs: how the edit itself goes, and what went wrong. */
export function BetweenRuns({
  slug,
  setups,
  tasks,
  selected,
}: {
  slug: string
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  /** Setup and task of the lane that letters act on, if any. */
  selected: { setupId: string; taskId: string } | null
}) {
  const [adding, setAdding] = useState<"trial" | "trouble" | null>(null)
  const seen = useQuery(observationsQuery(slug)).data
  const label = (id: string) => setups.find((each) => each.id === id)?.label ?? "?"
  const task = (id: string) => tasks.find((each) => each.id === id)?.name ?? "?"
  const observed = { setups, tasks, selected, onDone: () => setAdding(null) }
  return (
    <section aria-label="Between runs" className="max-w-4xl">
      <div className="flex flex-wrap items-center gap-2">
        <button type="button" className="btn btn-sm" onClick={() => setAdding("trial")}>
          Note how editing feels
        </button>
        <button type="button" className="btn btn-sm" onClick={() => setAdding("trouble")}>
          Note a problem
        </button>
        <Link
          to="/s/$slug/bench"
          params={{ slug }}
          search={{ view: "log" }}
          className="ml-2 text-13 underline"
        >
          Editing log, day by day
        </Link>
      </div>
      {adding === "trial" && <TrialForm slug={slug} observed={observed} />}
      {adding === "trouble" && <TroubleForm slug={slug} observed={observed} />}
      {seen && seen.trials.length === 0 && seen.troubles.length === 0 && (
        <p className="mt-2 text-13 text-mute">
          Nothing noted yet. While the machine is warm, scrub, seek and play the timeline: how
          editing feels matters as much as the export.
        </p>
      )}
      {seen && seen.trials.length > 0 && <Trials trials={seen.trials} label={label} />}
      {seen && seen.troubles.length > 0 && (
        <ul className="mt-3 text-13">
          {seen.troubles.map((each) => (
            <li key={each.id} className="border-b border-line py-1">
              <strong>{label(each.setup_id)}</strong>{" "}
              <span className="text-accent">{each.kind}</span>
              {each.note && `: ${each.note}`}
              <span className="text-mute">
                {" "}
                · {each.task_id ? task(each.task_id) : (each.app ?? "no task")},{" "}
                {moment(each.noted_at)}
              </span>
            </li>
          ))}
        </ul>
      )}
    </section>
  )
}

/** Trials as a small table: setups down, what was tried across. */
function Trials({ trials, label }: { trials: Schemas["Trial"][]; label: (id: string) => string }) {
  const kinds = [...new Set(trials.map((each) => each.kind))].sort()
  const setups = [...new Set(trials.map((each) => each.setup_id))].sort((a, b) =>
    label(a).localeCompare(label(b)),
  )
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="w-full text-13">
        <thead>
          <tr className="border-b border-base-content text-left">
            <th scope="col" className="py-1 pr-3 font-bold">
              How editing feels
            </th>
            {kinds.map((kind) => (
              <th scope="col" key={kind} className="py-1 pr-3 font-normal text-mute">
                {kind}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {setups.map((setup) => (
            <tr key={setup} className="border-b border-line">
              <th scope="row" className="py-1 pr-3 text-left font-bold">
                {label(setup)}
              </th>
              {kinds.map((kind) => {
                const found = trials.find((t) => t.setup_id === setup && t.kind === kind)
                return (
                  <td key={kind} className="py-1 pr-3">
                    {found ? <Grade trial={found} /> : <span className="text-mute">–</span>}
                  </td>
                )
              })}
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

function Grade({ trial }: { trial: Schemas["Trial"] }) {
  const bad = trial.grade === "stutters" || trial.grade === "unusable"
  const details = [
    trial.freezes ? count(trial.freezes, "freeze") : "",
    trial.dropped !== null && trial.total !== null
      ? `${trial.dropped} of ${trial.total} dropped`
      : "",
  ].filter(Boolean)
  return (
    <span title={trial.note ?? undefined}>
      <span className={bad ? "text-accent" : ""}>{trial.grade}</span>
      {details.length > 0 && <span className="text-mute"> {details.join(", ")}</span>}
    </span>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useState } from "react"
import { logQuery } from "../../api/bench"
import type { Schemas } from "../../api/client"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading } from "../../parts/Reading"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { count, day } from "../../theme/format"
import { GradeMark } from "./GradeMark"
import { LogByDay } from "./LogByDay"
import type { Observed } from "./ObservedForm"
import { TrialForm } from "./TrialForm"
import { TroubleForm } from "./TroubleForm"

/** Everything that was seen besides times: how editing felt by app and day, and the log by day. */
export function EditingLog({ slug, observed }: { slug: string; observed: Observed }) {
  const { data: log, error } = useQuery(logQuery(slug))
  const [adding, setAdding] = useState<"trial" | "trouble" | null>(null)
  const reading = useReading()
  const within = { ...observed, onDone: () => setAdding(null) }
  return (
    <div className="max-w-5xl">
      <div className="mb-4 flex flex-wrap items-center gap-2">
        {!reading && (
          <>
            <button
              type="button"
              className="btn btn-primary btn-sm"
              onClick={() => setAdding("trial")}
            >
              Note how editing feels
            </button>
            <button type="button" className="btn btn-sm" onClick={() => setAdding("trouble")}>
              Note a problem
            </button>
          </>
        )}
        <Link to="/s/$slug/bench" params={{ slug }} className="text-13 underline">
          Back to the timers
        </Link>
      </div>
      {adding === "trial" && <TrialForm slug={slug} observed={within} />}
      {adding === "trouble" && <TroubleForm slug={slug} observed={within} />}
      <ProblemNote error={error} />
      {log?.entries.length === 0 && (
        <EmptyStage title="Nothing noted yet">
          <p>
            Scrub, seek and play the timeline while a machine is warm. How it felt, by app and day,
            and every crash will stand here; nothing overwrites anything.
          </p>
        </EmptyStage>
      )}
      <div className="grid gap-x-8 xl:grid-cols-2">
        {log?.feels.map((feel) => (
          <FeelGrid key={`${feel.setup_id} ${feel.app}`} slug={slug} feel={feel} />
        ))}
      </div>
      {log && log.entries.length > 0 && (
        <LogByDay slug={slug} entries={log.entries} observed={within} />
      )}
    </div>
  )
}

/** How editing in one app felt on one setup: kinds down, days across, the latest lighter. */
function FeelGrid({ slug, feel }: { slug: string; feel: Schemas["Feel"] }) {
  const placeOf = useSetupPlaces(slug)
  return (
    <section aria-label={`${feel.setup}, ${feel.app}`} className="mt-5 min-w-0">
      <h2 className="flex items-center gap-2 text-18 leading-6">
        <SetupMark index={placeOf(feel.setup_id)} size={13} /> {feel.setup}
        <span className="text-13 font-normal text-mute">{feel.app}</span>
      </h2>
      <p className="mb-2">{feel.words}</p>
      <div className="relative overflow-x-auto">
        <table className="border-collapse text-13">
          <thead>
            <tr>
              <th scope="col" />
              {feel.days.map((each, at) => (
                <th
                  key={each.day}
                  scope="col"
                  className={`px-3 py-1 text-left ${at === feel.days.length - 1 ? "bg-page" : ""}`}
                >
                  {day(each.day)}
                  <span className="block font-normal text-mute">
                    {each.version ? `${feel.app} ${each.version}` : "version not noted"}
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {feel.rows.map((row) => (
              <tr key={`${row.what} ${row.conditions}`} className="border-t border-line">
                <th scope="row" className="py-2 pr-4 text-left font-normal">
                  {row.what}
                  {row.conditions && <span className="block text-mute">{row.conditions}</span>}
                </th>
                {row.cells.map((cell, at) => (
                  <td
                    key={feel.days[at]?.day}
                    className={`px-3 py-2 ${at === feel.days.length - 1 ? "bg-page" : ""}`}
                  >
                    {cell ? <Cell cell={cell} /> : <span className="text-mute">not tried</span>}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {feel.troubles > 0 && (
        <p className="mt-1 text-13 text-mute">
          {count(feel.troubles, "problem")} in {feel.app}: see below.
        </p>
      )}
    </section>
  )
}

function Cell({ cell }: { cell: Schemas["FeelCell"] }) {
  const bad = cell.grade === "stutters" || cell.grade === "unusable"
  return (
    <span className="flex items-center gap-2">
      <GradeMark grade={cell.grade} />
      <span>
        <strong className={bad ? "text-accent" : ""}>{cell.grade}</strong>
        {cell.counts && <span className="block text-12 leading-4">{cell.counts}</span>}
        {cell.was && (
          <span className="block text-12 leading-4 text-mute">
            corrected, was <s>{cell.was}</s>
          </span>
        )}
      </span>
    </span>
  )
}

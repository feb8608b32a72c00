import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { planQuery } from "../../api/margins"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { percent, plain, readNumber } from "../../theme/format"

/** Before any data: how many runs a stated difference needs, and the bench time they cost. */
export function BeforeData({ slug }: { slug: string }) {
  const [difference, setDifference] = useState("5")
  const [minutes, setMinutes] = useState("")
  const number = (text: string) => readNumber(text) ?? Number.NaN
  const stated = number(difference) / 100
  const each = minutes.trim() ? number(minutes) : null
  const bad = !(stated > 0 && stated <= 10) || (each !== null && !(each > 0))
  const { data, error } = useQuery({
    ...planQuery(slug, stated, each),
    enabled: !bad,
  })
  return (
    <section aria-label="How many runs do I need?" className="max-w-3xl">
      <div className="flex flex-wrap items-end gap-2">
        <div className="w-48">
          <TextField
            label="To detect a difference of, in %"
            value={difference}
            onText={setDifference}
            inputMode="decimal"
            error={stated > 0 && stated <= 10 ? null : "More than 0, up to 1000."}
          />
        </div>
        <div className="w-56">
          <TextField
            label="Minutes per run, if unknown"
            value={minutes}
            onText={setMinutes}
            inputMode="decimal"
            error={each === null || each > 0 ? null : "More than 0."}
          />
        </div>
      </div>
      <ProblemNote error={error} />
      {data && !bad && (
        <>
          <p className="mt-2">{data.summary}</p>
          {data.rows.length > 0 && (
            <table className="mt-2 w-full border-collapse text-13">
              <thead>
                <tr className="text-left text-mute">
                  <th scope="col" className="py-1 font-normal">
                    task
                  </th>
                  <th scope="col" className="font-normal">
                    spread
                  </th>
                  <th scope="col" className="text-right font-normal">
                    runs each
                  </th>
                  <th scope="col" className="text-right font-normal">
                    hours, {data.setups} setups
                  </th>
                </tr>
              </thead>
              <tbody>
                {data.rows.map((row) => (
                  <tr key={row.task_id} className="border-t border-line">
                    <td className="py-1 pr-2">{row.task}</td>
                    <td className="pr-2">
                      <span className="figure">{percent(row.spread_cv)}</span>{" "}
                      <span className="text-mute">{row.basis}</span>
                    </td>
                    <td className={`figure text-right ${row.worth_it ? "" : "text-accent"}`}>
                      {row.runs_each ?? "never"}
                    </td>
                    <td className="figure text-right">
                      {row.hours === null ? "–" : plain(row.hours)}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          )}
        </>
      )}
    </section>
  )
}

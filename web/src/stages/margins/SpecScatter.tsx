import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { scatterQuery } from "../../api/margins"
import { ProblemNote } from "../../parts/ProblemNote"
import { ScatterPlot } from "./ScatterPlot"

/** Speed against one spec, with the setups' marks: what a task gains from. */
export function SpecScatter({ slug, task }: { slug: string; task: string }) {
  const [field, setField] = useState<string | undefined>(undefined)
  const { data, error } = useQuery(scatterQuery(slug, task, field))
  if (error) return <ProblemNote error={error} />
  if (!data) return <p className="text-mute">Loading…</p>
  if (data.points.length < 2) return <p className="text-mute">{data.says}</p>
  return (
    <div className="max-w-3xl">
      <label className="flex items-center gap-2 text-13 text-mute">
        Speed against
        <select
          className="select select-sm w-auto bg-page"
          value={data.field ?? ""}
          onChange={(event) => setField(event.target.value)}
        >
          {data.choices.map((choice) => (
            <option key={choice.field} value={choice.field}>
              {choice.title}
            </option>
          ))}
        </select>
      </label>
      <ScatterPlot slug={slug} data={data} />
      <p className="text-13 text-mute">{data.says}</p>
    </div>
  )
}

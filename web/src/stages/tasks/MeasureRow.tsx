import { useState } from "react"
import type { Schemas } from "../../api/client"
import { useChangeMeasure } from "../../api/tasks"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading } from "../../parts/Reading"
import { count } from "../../theme/format"
import type { Sheet } from "./job"

type Wanted = {
  measure: "time" | "amount"
  unit: string
  bare: NonNullable<Schemas["NewMeasure"]["bare"]>
}

const WORDS = {
  time: "time (lower is better)",
  amount: "a score or rate (higher is better)",
  observation: "watched, not timed: the preview quality that is held",
} as const

/** You measure; where there are runs, what another measure makes of them is shown first. */
export function MeasureRow({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { task } = sheet
  const reading = useReading()
  const [wanted, setWanted] = useState<Wanted | null>(null)
  const words = WORDS[task.measure as keyof typeof WORDS]
  if (task.measure === "observation" || reading) {
    return <span className="block px-1 py-1">{words}</span>
  }
  if (wanted === null) {
    const other = task.measure === "time" ? "amount" : "time"
    return (
      <span className="flex flex-wrap items-center gap-x-3 px-1 py-1">
        <span>
          {words}
          {task.unit && task.measure === "amount" && `, in ${task.unit}`}
        </span>
        <button
          type="button"
          className="text-13 underline"
          onClick={() => setWanted({ measure: other, unit: task.unit ?? "", bare: "s" })}
        >
          Make it {other === "amount" ? "an amount" : "a time"}
        </button>
      </span>
    )
  }
  return (
    <Change
      slug={slug}
      sheet={sheet}
      wanted={wanted}
      onWanted={setWanted}
      onDone={() => setWanted(null)}
    />
  )
}

function Change({
  slug,
  sheet,
  wanted,
  onWanted,
  onDone,
}: {
  slug: string
  sheet: Sheet
  wanted: Wanted
  onWanted: (wanted: Wanted) => void
  onDone: () => void
}) {
  const { task } = sheet
  const look = useChangeMeasure(slug)
  const store = useChangeMeasure(slug)
  const bodyOf = (really: boolean) => ({
    taskId: task.id,
    version: task.version,
    measure: wanted.measure,
    unit: wanted.measure === "amount" ? wanted.unit.trim() || null : null,
    bare: wanted.bare,
    really,
  })
  const seen = look.data
  const set = (changes: Partial<Wanted>) => {
    look.reset()
    onWanted({ ...wanted, ...changes })
  }
  return (
    <form
      aria-label="Another measure"
      className="space-y-2 p-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (sheet.runs > 0 && !seen) look.mutate(bodyOf(false))
        else store.mutate(bodyOf(true), { onSuccess: onDone })
      }}
    >
      {wanted.measure === "amount" ? (
        <div className="w-40">
          <TextField
            label="Unit"
            value={wanted.unit}
            onText={(unit) => set({ unit })}
            maxLength={40}
            placeholder="points"
            autoFocus
          />
        </div>
      ) : (
        <div className="w-64">
          <ChoiceField
            label="A number without a unit is in"
            value={wanted.bare ?? "s"}
            options={[
              { value: "s", words: "seconds" },
              { value: "min", words: "minutes" },
              { value: "h", words: "hours" },
              { value: "minutes:seconds", words: "minutes and seconds: 3.10 is 3:10" },
            ]}
            onValue={(bare) => set({ bare: bare as Wanted["bare"] })}
          />
        </div>
      )}
      {seen && <Readings seen={seen} />}
      <div className="flex gap-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-xs"
          busy={look.isPending || store.isPending}
          needs={(seen?.problems ?? 0) > 0 && "Correct the lines that cannot be read first."}
        >
          {sheet.runs === 0
            ? "Change it"
            : seen
              ? `Read ${count(seen.runs, "run")} again`
              : "Preview"}
        </ActButton>
        <button type="button" className="btn btn-ghost btn-xs" onClick={onDone}>
          Cancel
        </button>
      </div>
      <ProblemNote error={look.error ?? store.error} />
    </form>
  )
}

function Readings({ seen }: { seen: Schemas["MeasureChange"] }) {
  return (
    <>
      <p className="text-13">
        {seen.problems === 0
          ? "Every run can be read again as it was typed; each keeps in its history what it was."
          : `${count(seen.problems, "run")} cannot be read so: put them right first.`}
      </p>
      <div className="max-h-56 overflow-auto">
        <table className="w-full border-collapse text-13">
          <thead>
            <tr className="border-b border-base-content text-left text-mute">
              <th scope="col" className="py-1 font-normal">
                setup
              </th>
              <th scope="col" className="py-1 font-normal">
                typed
              </th>
              <th scope="col" className="py-1 font-normal">
                is
              </th>
              <th scope="col" className="py-1 font-normal">
                becomes
              </th>
            </tr>
          </thead>
          <tbody>
            {seen.rows.map((row) => (
              <tr
                key={row.run_id}
                className={`border-b border-line ${row.problem ? "bg-pick" : ""}`}
              >
                <td className="py-1 pr-2">{row.setup}</td>
                <td className="figure py-1 pr-2">{row.typed ?? "–"}</td>
                <td className="figure py-1 pr-2">{row.was}</td>
                <td className="py-1">
                  {row.problem ?? <span className="figure">{row.becomes ?? "no value"}</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  )
}

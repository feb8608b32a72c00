import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useChangeInquiry } from "../../api/margins"
import { runsQuery } from "../../api/queries"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { day, moment, runValue } from "../../theme/format"

type View = Schemas["InquiryView"]
type Counts = NonNullable<Schemas["InquiryChange"]["counts"]>

const COUNTS: [Counts, string][] = [
  ["before", "the runs before"],
  ["again", "the runs tried again"],
  ["both", "both"],
  ["none", "none of them"],
]

/** One inquiry: suspected, changed, tried again, outcome, and which runs count. */
export function Inquiry({ slug, view }: { slug: string; view: View }) {
  const [open, setOpen] = useState(false)
  const { inquiry } = view
  return (
    <>
      <p>
        <strong>{inquiry.about}</strong>
      </p>
      <p>{view.line}</p>
      {inquiry.changed && <p className="text-[13px]">Changed: {inquiry.changed}</p>}
      {view.runs.length > 0 && (
        <p className="text-[13px]">
          Tried again:{" "}
          {view.runs.map((run) => (
            <Link
              key={run.id}
              to="/s/$slug/runs"
              params={{ slug }}
              search={{ run: run.id }}
              className="figure mr-3 underline decoration-line"
            >
              {runValue(run, "time")}
            </Link>
          ))}
        </p>
      )}
      <p className="text-[13px] text-mute">
        {inquiry.who}, opened {day(inquiry.opened_at)}
        {inquiry.closed_at && `, closed ${moment(inquiry.closed_at)}`}
      </p>
      {open ? (
        <Notes slug={slug} view={view} onDone={() => setOpen(false)} />
      ) : (
        <Writes>
          <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
            {inquiry.closed_at ? "Change it" : "Note what came out"}
          </button>
        </Writes>
      )}
    </>
  )
}

function Notes({ slug, view, onDone }: { slug: string; view: View; onDone: () => void }) {
  const { inquiry } = view
  const [changed, setChanged] = useState(inquiry.changed ?? "")
  const [outcome, setOutcome] = useState(inquiry.outcome ?? "")
  const [counts, setCounts] = useState(inquiry.counts ?? "")
  const [linked, setLinked] = useState<string[]>([])
  const change = useChangeInquiry(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const body: Schemas["InquiryChange"] = { version: inquiry.version }
    if (changed.trim() && changed !== inquiry.changed) body.changed = changed
    if (outcome.trim() && outcome !== inquiry.outcome) body.outcome = outcome
    if (counts !== (inquiry.counts ?? "")) body.counts = (counts || null) as Counts | null
    if (linked.length > 0) body.run_ids = linked
    change.mutate({ id: inquiry.id, body }, { onSuccess: onDone })
  }
  return (
    <form onSubmit={submit} className="mt-2 max-w-xl space-y-2">
      <TextField label="What was changed?" value={changed} onText={setChanged} maxLength={1000} />
      <RunsAgain slug={slug} view={view} linked={linked} onLink={setLinked} />
      <TextField label="What came out?" value={outcome} onText={setOutcome} maxLength={1000} />
      <Field
        label="Which runs count?"
        hint="This closes the inquiry. Runs that do not count are voided by you, in Runs."
      >
        {(id, described) => (
          <select
            id={id}
            aria-describedby={described}
            className="select select-sm w-full bg-page"
            value={counts}
            onChange={(event) => setCounts(event.target.value)}
          >
            <option value="">not settled yet</option>
            {COUNTS.map(([value, words]) => (
              <option key={value} value={value}>
                {words}
              </option>
            ))}
          </select>
        )}
      </Field>
      <button type="submit" className="btn btn-primary btn-xs" disabled={change.isPending}>
        Keep
      </button>
      <ProblemNote error={change.error} />
    </form>
  )
}

/** Runs of what the inquiry is about, newest first, to link as tried again. */
function RunsAgain({
  slug,
  view,
  linked,
  onLink,
}: {
  slug: string
  view: View
  linked: string[]
  onLink: (ids: string[]) => void
}) {
  const book = useQuery(runsQuery(slug)).data
  const { inquiry } = view
  const setups = [inquiry.setup_a_id, inquiry.setup_b_id].filter((id) => id !== null)
  const known = new Set(inquiry.run_ids)
  const offered = (book?.runs ?? [])
    .map((each) => each.run)
    .filter((run) => inquiry.task_id === null || run.task_id === inquiry.task_id)
    .filter((run) => setups.length === 0 || setups.includes(run.setup_id))
    .filter((run) => !known.has(run.id) && run.status !== "void")
    .slice(-12)
    .reverse()
  if (offered.length === 0) return null
  const toggle = (id: string) =>
    onLink(linked.includes(id) ? linked.filter((each) => each !== id) : [...linked, id])
  return (
    <fieldset>
      <legend className="text-[13px] text-mute">Runs that were tried again, newest first</legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {offered.map((run) => (
          <label key={run.id} className="figure flex items-center gap-1.5 text-[13px]">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={linked.includes(run.id)}
              onChange={() => toggle(run.id)}
            />
            {runValue(run, "time")}
          </label>
        ))}
      </div>
    </fieldset>
  )
}

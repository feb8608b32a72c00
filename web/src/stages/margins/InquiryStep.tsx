import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { logQuery } from "../../api/bench"
import type { Schemas } from "../../api/client"
import { useAddStep } from "../../api/margins"
import { lineupQuery, runsQuery, tasksQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { day, runValue } from "../../theme/format"

type View = Schemas["InquiryView"]
type Step = Schemas["NewStep"]
/** What can belong to a step: a run, a trial or a trouble. */
type Offered = { id: string; sort: "run" | "trial" | "trouble"; words: string }

const MOST_OFFERED = 12
const KINDS = [
  { value: "changed", words: "something was changed" },
  { value: "tried again", words: "it was tried again" },
  { value: "suspected", words: "something else is suspected" },
  { value: "came out", words: "this came out" },
] as const
const ASKED: Record<Step["kind"], string> = {
  changed: "What was changed?",
  "tried again": "What was tried again? (may stay empty)",
  suspected: "What do you suspect now?",
  "came out": "What came out?",
  "opened again": "Why is it opened again?",
}
const COUNTS = [
  { value: "", words: "not settled yet" },
  { value: "before", words: "the runs before" },
  { value: "again", words: "the runs tried again" },
  { value: "both", words: "both" },
  { value: "none", words: "none of them" },
]

/** The next step of an inquiry, with the runs and entries of the log that belong to it. */
export function InquiryStep({
  slug,
  view,
  onDone,
}: {
  slug: string
  view: View
  onDone: () => void
}) {
  const { inquiry } = view
  const closed = inquiry.closed_at !== null
  const [kind, setKind] = useState<Step["kind"]>(closed ? "opened again" : "changed")
  const [words, setWords] = useState("")
  const [counts, setCounts] = useState("")
  const [chosen, setChosen] = useState<Offered[]>([])
  const add = useAddStep(slug)
  const idsOf = (sort: Offered["sort"]) =>
    chosen.filter((each) => each.sort === sort).map((each) => each.id)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const body: Step = {
      version: inquiry.version,
      kind,
      words: words.trim() || null,
      counts: kind === "came out" && counts ? (counts as NonNullable<Step["counts"]>) : null,
      run_ids: idsOf("run"),
      trial_ids: idsOf("trial"),
      trouble_ids: idsOf("trouble"),
    }
    add.mutate({ id: inquiry.id, body }, { onSuccess: onDone })
  }
  return (
    <form aria-label="Next step" onSubmit={submit} className="mt-2 max-w-xl space-y-2">
      {!closed && (
        <ChoiceField
          label="What happened?"
          value={kind}
          options={KINDS}
          onValue={(value) => setKind(value as Step["kind"])}
        />
      )}
      <TextField
        label={ASKED[kind]}
        value={words}
        onText={setWords}
        maxLength={1000}
        autoFocus={closed}
      />
      {kind !== "opened again" && (
        <Attach slug={slug} view={view} chosen={chosen} onChosen={setChosen} />
      )}
      {kind === "came out" && (
        <ChoiceField
          label="Which runs count?"
          hint="This closes the inquiry. Runs that do not count are voided by you, in Runs."
          value={counts}
          options={COUNTS}
          onValue={setCounts}
        />
      )}
      <div className="flex gap-2">
        <ActButton type="submit" className="btn btn-primary btn-xs" busy={add.isPending}>
          Save the step
        </ActButton>
        <button type="button" className="btn btn-ghost btn-xs" onClick={onDone}>
          Cancel
        </button>
      </div>
      <ProblemNote error={add.error} />
    </form>
  )
}

/** Runs and entries of what the inquiry is about, newest first. */
function Attach({
  slug,
  view,
  chosen,
  onChosen,
}: {
  slug: string
  view: View
  chosen: Offered[]
  onChosen: (chosen: Offered[]) => void
}) {
  const offered = useOffered(slug, view)
  if (offered.length === 0) return null
  const has = (id: string) => chosen.some((each) => each.id === id)
  const toggle = (thing: Offered) =>
    onChosen(has(thing.id) ? chosen.filter((each) => each.id !== thing.id) : [...chosen, thing])
  return (
    <fieldset>
      <legend className="text-13 text-mute">Runs and entries of the log that belong to it</legend>
      <div className="max-h-40 overflow-auto">
        {offered.map((thing) => (
          <label key={thing.id} className="flex items-center gap-1.5 py-0.5 text-13">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={has(thing.id)}
              onChange={() => toggle(thing)}
            />
            {thing.words}
          </label>
        ))}
      </div>
    </fieldset>
  )
}

function useOffered(slug: string, { inquiry, steps }: View): Offered[] {
  const book = useQuery(runsQuery(slug)).data
  const log = useQuery(logQuery(slug)).data
  const lineup = useQuery(lineupQuery(slug)).data
  const sheets = useQuery(tasksQuery(slug)).data
  const known = new Set(steps.flatMap((step) => step.things.map((thing) => thing.id)))
  const setups = [inquiry.setup_a_id, inquiry.setup_b_id].filter((id) => id !== null)
  const about = (each: { id: string; task_id: string | null; setup_id: string }) =>
    !known.has(each.id) &&
    (inquiry.task_id === null || each.task_id === null || each.task_id === inquiry.task_id) &&
    (setups.length === 0 || setups.includes(each.setup_id))
  const setup = new Map(lineup?.setups.map((each) => [each.id, each.label]))
  const task = new Map(sheets?.map((each) => [each.task.id, each.task]))
  const runs = (book?.runs ?? [])
    .map((each) => each.run)
    .filter((run) => run.status !== "void" && about(run))
    .slice(-MOST_OFFERED)
    .reverse()
    .map((run) => ({
      id: run.id,
      sort: "run" as const,
      words: `${setup.get(run.setup_id) ?? ""}, ${task.get(run.task_id)?.name ?? ""}: ${run.value === null ? run.status : runValue(run, task.get(run.task_id)?.measure ?? "time")}`,
    }))
  const seen = (log?.entries ?? [])
    .filter((entry) => entry.sort !== "failure" && about(entry))
    .slice(0, MOST_OFFERED)
    .map((entry) => ({
      id: entry.id,
      sort: entry.sort as "trial" | "trouble",
      words: `${entry.setup}, ${entry.task ?? entry.app}: ${entry.what} ${entry.grade ?? ""} (${day(entry.day)})`,
    }))
  return [...runs, ...seen]
}

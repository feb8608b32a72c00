import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { useReviseRun } from "../../api/changes"
import { ReadingMethod } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { roundsQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { NotePart } from "../../parts/SideNote"
import { changeOf, type LastChange } from "./lastChange"

/** What a run was said to be: its value, how it was read, and in which round. */
type Job = { typed: string; method: string; round_id: string }
type What = "void" | "failed" | "count" | "correct" | "note"
const WORDS = {
  void: "Don’t count it",
  failed: "Mark as failed",
  count: "Count it",
  correct: "Change the time",
  note: "Save the note",
}

/** Voids, corrects or counts a run again; always with a reason, and the run as it was is kept. */
export function ReviseRun({
  slug,
  run,
  onChanged,
}: {
  slug: string
  run: Schemas["Run"]
  onChanged: (change: LastChange) => void
}) {
  const [what, setWhat] = useState<What | null>(null)
  const [why, setWhy] = useState("")
  const [job, setJob] = useState<Job>({
    typed: run.typed ?? "",
    method: run.method,
    round_id: run.round_id,
  })
  const rounds = useQuery(roundsQuery(slug)).data
  const revise = useReviseRun(slug)
  const problem = problemOf(revise.error)
  const send = (meaning?: "clock" | "decimal") => {
    if (what === null || !why.trim()) return
    const body = changeTo(run, what, why, job, meaning)
    revise.mutate(
      { id: run.id, body },
      {
        onSuccess: (stored) => {
          setWhat(null)
          onChanged(changeOf(stored.says, [stored.run]))
        },
      },
    )
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    send()
  }
  if (what === null) {
    return <Ways run={run} says={revise.data?.says} onChoose={setWhat} />
  }
  return (
    <form onSubmit={submit} className="mt-5 space-y-2">
      {what === "correct" && (
        <>
          <TextField
            label="Time or amount"
            value={job.typed}
            onText={(typed) => setJob({ ...job, typed })}
            maxLength={60}
            error={problem?.field === "typed" && !problem.meanings ? problem.detail : null}
          />
          <ChoiceField
            label="How it was timed"
            value={job.method}
            options={ReadingMethod.map((each) => ({ value: each, words: each }))}
            onValue={(method) => setJob({ ...job, method })}
          />
          <ChoiceField
            label="Round"
            value={job.round_id}
            options={(rounds ?? []).map((each) => ({ value: each.id, words: each.name }))}
            onValue={(round_id) => setJob({ ...job, round_id })}
          />
        </>
      )}
      <TextField
        label={what === "note" ? "Note" : "Why? It is kept with the run."}
        value={why}
        onText={setWhy}
        maxLength={500}
        placeholder={what === "void" ? "backup was running" : "misread the clock"}
        autoFocus
      />
      <div className="flex gap-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          needs={!why.trim() && "Needs a reason."}
        >
          {WORDS[what]}
        </ActButton>
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => setWhat(null)}>
          Cancel
        </button>
      </div>
      {problem?.meanings?.map((each) => (
        <button
          key={each.meaning}
          type="button"
          className="btn btn-xs mr-2"
          onClick={() => send(each.meaning)}
        >
          {each.words}
        </button>
      ))}
      {(problem?.field !== "typed" || problem.meanings) && <ProblemNote error={revise.error} />}
    </form>
  )
}

/** The ways in which a run can be changed. */
function Ways({
  run,
  says,
  onChoose,
}: {
  run: Schemas["Run"] /** What the last change did. */
  says: string | undefined
  onChoose: (what: What) => void
}) {
  return (
    <NotePart title="Change">
      <div className="flex flex-wrap gap-2">
        {run.status === "ok" ? (
          <>
            <button type="button" className="btn btn-sm" onClick={() => onChoose("void")}>
              Don’t count it
            </button>
            <button type="button" className="btn btn-sm" onClick={() => onChoose("failed")}>
              Mark as failed
            </button>
          </>
        ) : (
          run.value !== null && (
            <button type="button" className="btn btn-sm" onClick={() => onChoose("count")}>
              Count it
            </button>
          )
        )}
        <button type="button" className="btn btn-sm" onClick={() => onChoose("correct")}>
          Change the time
        </button>
        <button type="button" className="btn btn-sm" onClick={() => onChoose("note")}>
          {run.note ? "Change the note" : "Add a note"}
        </button>
      </div>
      {says && <p className="mt-2 text-13">{says}</p>}
    </NotePart>
  )
}

/** What is sent: the change with its reason, on the version that was seen. */
function changeTo(
  run: Schemas["Run"],
  what: What,
  why: string,
  job: Job,
  meaning: "clock" | "decimal" | undefined,
): Schemas["RunChange"] {
  const body: Schemas["RunChange"] = { version: run.version, why }
  if (what === "void") Object.assign(body, { status: "void", reason: why })
  if (what === "count") body.status = "ok"
  if (what === "failed") Object.assign(body, { status: "failed", reason: why })
  if (what === "correct") {
    // Only what is other is sent: a value that is sent is read anew.
    if (job.typed !== (run.typed ?? "")) body.typed = job.typed
    if (job.method !== run.method)
      body.method = job.method as NonNullable<Schemas["RunChange"]["method"]>
    if (job.round_id !== run.round_id) body.round_id = job.round_id
  }
  if (what === "note") Object.assign(body, { note: why, why: "note added" })
  if (meaning) body.meaning = meaning
  return body
}

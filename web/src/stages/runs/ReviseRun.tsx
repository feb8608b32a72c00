import { type FormEvent, useState } from "react"
import { useReviseRun } from "../../api/changes"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { NotePart } from "../../parts/SideNote"

type What = "void" | "count" | "correct"

/** Voids, corrects or counts a run again; always with a reason, and the run as it was is kept. */
export function ReviseRun({ slug, run }: { slug: string; run: Schemas["Run"] }) {
  const [what, setWhat] = useState<What | null>(null)
  const [why, setWhy] = useState("")
  const [typed, setTyped] = useState(run.typed ?? "")
  const revise = useReviseRun(slug)
  const problem = problemOf(revise.error)
  const send = (meaning?: "clock" | "decimal") => {
    if (what === null || !why.trim()) return
    const body: Schemas["RunChange"] = { version: run.version, why }
    if (what === "void") Object.assign(body, { status: "void", reason: why })
    if (what === "count") body.status = "ok"
    if (what === "correct") body.typed = typed
    if (meaning) body.meaning = meaning
    revise.mutate({ id: run.id, body }, { onSuccess: () => setWhat(null) })
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    send()
  }
  if (what === null) {
    return (
      <NotePart title="Change">
        <div className="flex flex-wrap gap-2">
          {run.status === "ok" ? (
            <button type="button" className="btn btn-sm" onClick={() => setWhat("void")}>
              Void run
            </button>
          ) : (
            run.value !== null && (
              <button type="button" className="btn btn-sm" onClick={() => setWhat("count")}>
                Count it again
              </button>
            )
          )}
          <button type="button" className="btn btn-sm" onClick={() => setWhat("correct")}>
            Correct the value
          </button>
        </div>
        {revise.data && <p className="mt-2 text-[13px]">{revise.data.says}</p>}
      </NotePart>
    )
  }
  return (
    <form onSubmit={submit} className="mt-5 space-y-2">
      {what === "correct" && (
        <TextField
          label="Time or amount"
          value={typed}
          onText={setTyped}
          maxLength={60}
          error={problem?.field === "typed" && !problem.meanings ? problem.detail : null}
        />
      )}
      <TextField
        label="Why? It is kept with the run."
        value={why}
        onText={setWhy}
        maxLength={500}
        placeholder={what === "void" ? "backup was running" : "misread the clock"}
        autoFocus
      />
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm" disabled={!why.trim()}>
          {what === "void" ? "Void run" : what === "count" ? "Count it" : "Correct it"}
        </button>
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

import { type FormEvent, useState } from "react"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"

/** Asks what a change of the job means where there are runs of it already. */
export function JobChange({
  name,
  runs,
  busy,
  error,
  onRevise,
  onCorrect,
  onCancel,
}: {
  name: string
  runs: number
  busy: boolean
  error: unknown
  onRevise: () => void
  onCorrect: (why: string) => void
  onCancel: () => void
}) {
  const [why, setWhy] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (why.trim()) onCorrect(why)
  }
  return (
    <section aria-label="What changed" className="my-3 border border-accent bg-page p-3">
      <p>
        <strong>{name}</strong> has {count(runs, "run")} made with what stands here. What changed?
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <ActButton type="button" className="btn btn-primary btn-sm" busy={busy} onClick={onRevise}>
          The job changed: start a new version
        </ActButton>
        <form onSubmit={submit} className="flex flex-wrap items-end gap-2">
          <div className="w-56">
            <TextField
              label="Just a typo in the description: what was wrong?"
              value={why}
              onText={setWhy}
              maxLength={500}
            />
          </div>
          <ActButton
            type="submit"
            className="btn btn-sm"
            busy={busy}
            needs={!why.trim() && "Needs a reason."}
          >
            Fix it
          </ActButton>
        </form>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
          Cancel
        </button>
      </div>
      <p className="mt-2 text-13 text-mute">
        A new revision starts without runs; the old one keeps its runs and its settings.
      </p>
      <ProblemNote error={error} />
    </section>
  )
}

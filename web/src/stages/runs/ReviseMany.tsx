import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useReviseMany } from "../../api/runs"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useTakesFocus } from "../../reach/useTakesFocus"
import { count } from "../../theme/format"
import { changeOf, type LastChange } from "./lastChange"

const WHAT = { void: "Void", failed: "Mark as failed", ok: "Count again" } as const

/** Changes the chosen runs alike, all or none; a reason is asked, and kept with each. */
export function ReviseMany({
  slug,
  runs,
  onDone,
  onClose,
}: {
  slug: string
  runs: Schemas["RunInBrief"][]
  onDone: (change: LastChange) => void
  onClose: () => void
}) {
  const [status, setStatus] = useState<keyof typeof WHAT>("void")
  const [why, setWhy] = useState("")
  const revise = useReviseMany(slug)
  const form = useTakesFocus<HTMLFormElement>()
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!why.trim() || runs.length === 0) return
    revise.mutate(
      {
        runs: runs.map(({ id, version }) => ({ id, version })),
        status,
        reason: status === "ok" ? null : why.trim(),
        why: why.trim(),
      },
      { onSuccess: (changed) => onDone(changeOf(changed.says, changed.runs)) },
    )
  }
  return (
    <form
      ref={form}
      onSubmit={submit}
      className="mb-3 flex flex-wrap items-end gap-2 border-y border-line bg-band px-2 py-2"
    >
      <p className="w-full text-13">
        {runs.length === 0 ? "Click the runs to change." : `${count(runs.length, "run")} chosen.`}
      </p>
      <label className="text-13">
        <span className="mb-0.5 block text-mute">What to do</span>
        <select
          className="select select-sm bg-page"
          value={status}
          onChange={(event) => setStatus(event.target.value as keyof typeof WHAT)}
        >
          {Object.entries(WHAT).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <div className="w-72">
        <TextField
          label="Why? It is kept with each run."
          value={why}
          onText={setWhy}
          maxLength={500}
          placeholder="backup was running"
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        busy={revise.isPending}
        needs={runs.length === 0 ? "Choose at least one run." : !why.trim() && "Needs a reason."}
      >
        {WHAT[status]} {count(runs.length, "run")}
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
        Done
      </button>
      <ProblemNote error={revise.error} />
    </form>
  )
}

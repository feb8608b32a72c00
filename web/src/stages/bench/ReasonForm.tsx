import { type FormEvent, type KeyboardEvent, useState } from "react"
import { TextField } from "../../parts/Field"

export type Ending = {
  kind: "void" | "failed"
  /** Moment of the press, in ms. */
  at: number
}

const REASONS = {
  void: ["false start", "recorder left on", "wrong settings", "something in the background"],
  failed: ["crash", "hang", "out of memory", "would not start", "wrong output", "abandoned"],
}

/** Asks why a run is void or failed; the moment is that of the press. */
export function ReasonForm({
  ending,
  onDone,
}: {
  ending: Ending
  /** With the reason, or null where the person thought better of it. */
  onDone: (reason: string | null) => void
}) {
  const [reason, setReason] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (reason.trim()) onDone(reason.trim())
  }
  const pressed = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return
    event.preventDefault()
    onDone(null)
  }
  return (
    <form onSubmit={submit} onKeyDown={pressed} className="mt-4 max-w-xl space-y-2">
      <TextField
        label={`Why is the run ${ending.kind}? It stays in the book, with the reason.`}
        value={reason}
        onText={setReason}
        maxLength={500}
        autoFocus
      />
      <div className="flex flex-wrap gap-2">
        {REASONS[ending.kind].map((each) => (
          <button key={each} type="button" className="btn btn-xs" onClick={() => onDone(each)}>
            {each}
          </button>
        ))}
      </div>
      <div className="flex gap-2">
        <button type="submit" className="btn btn-primary btn-sm" disabled={!reason.trim()}>
          {ending.kind === "void" ? "Void run" : "Record the failure"}
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => onDone(null)}>
          Cancel
        </button>
      </div>
    </form>
  )
}

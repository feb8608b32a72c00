import { type FormEvent, type KeyboardEvent, useState } from "react"
import { TextField } from "../../parts/Field"

/** Asks how far a run is, in per cent; the moment is that of the press. */
export function MarkForm({
  why,
  onDone,
}: {
  /** Says why a fraction cannot be; null where it can. */
  why: (fraction: number) => string | null
  /** With the fraction, or null where the person thought better of it. */
  onDone: (fraction: number | null) => void
}) {
  const [text, setText] = useState("")
  const [error, setError] = useState<string | null>(null)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const typed = text.trim().replace(",", ".").replace(/\s*%$/, "")
    const fraction = typed === "" ? Number.NaN : Number(typed) / 100
    const reason = why(fraction)
    if (reason) setError(reason)
    else onDone(fraction)
  }
  const pressed = (event: KeyboardEvent) => {
    if (event.key !== "Escape") return
    event.preventDefault()
    onDone(null)
  }
  return (
    <form
      onSubmit={submit}
      onKeyDown={pressed}
      className="mt-4 flex max-w-xl flex-wrap items-end gap-2"
    >
      <div className="w-44">
        <TextField
          label="Done so far, per cent"
          value={text}
          onText={setText}
          inputMode="decimal"
          placeholder="40"
          error={error}
          autoFocus
        />
      </div>
      <button type="submit" className="btn btn-primary btn-sm" disabled={!text.trim()}>
        Mark
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => onDone(null)}>
        Cancel
      </button>
    </form>
  )
}

import { type FormEvent, type KeyboardEvent, useState } from "react"
import type { Said } from "../../lanes/desk"
import { EXAMPLES, markWords, readMark } from "../../lanes/marks"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"

/** What a person notices beside a machine that works; one tap notes it. */
const NOTICED = ["fan starts", "fan loud", "fan quiet again", "hot to the touch", "slows down"]

/** Asks how far a run is, or what else was read; the moment is that of the press. */
export function MarkForm({
  why,
  onDone,
}: {
  /** Says why a mark cannot be; null where it can. */
  why: (said: Said | null) => string | null
  /** With the mark, or null where the person thought better of it. */
  onDone: (said: Said | null) => void
}) {
  const [text, setText] = useState("")
  const [error, setError] = useState<string | null>(null)
  const said = readMark(text)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const reason = why(said)
    if (reason) setError(reason)
    else onDone(said)
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
      className="mt-4 flex max-w-2xl flex-wrap items-start gap-2"
    >
      <div className="w-full max-w-md">
        <TextField
          label="Done so far, per cent; or a reading with its unit; or what happened"
          value={text}
          onText={setText}
          placeholder="40"
          error={error}
          hint={text.trim() && said ? `understood: ${markWords(said)}` : EXAMPLES}
          maxLength={200}
          autoFocus
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm sm:mt-5"
        needs={!text.trim() && "Needs a mark."}
      >
        Mark
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm sm:mt-5" onClick={() => onDone(null)}>
        Cancel
      </button>
      <div className="flex w-full flex-wrap gap-2">
        {NOTICED.map((event) => (
          <button
            key={event}
            type="button"
            className="btn btn-sm"
            onClick={() => onDone({ event })}
          >
            {event}
          </button>
        ))}
      </div>
    </form>
  )
}

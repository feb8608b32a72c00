import { type FormEvent, type KeyboardEvent, useState } from "react"
import { momentOf } from "../../lanes/lane"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { singleKeysOn } from "../../parts/useKeys"
import { readNumber } from "../../theme/format"

export type Ending = {
  kind: "void" | "failed"
  /** Moment of the press, in ms. */
  at: number
}

/** Its elapsed time belongs to the reason. */
const ABANDONED = "abandoned after"
const REASONS = {
  void: ["false start", "recorder left on", "wrong settings", "something in the background"],
  failed: ["crash", "hang", "out of memory", "would not start", "wrong output", ABANDONED],
}

/** Asks why a run is void or failed; the moment is that of the press. */
export function ReasonForm({
  ending,
  after,
  known,
  onDigit,
  onDone,
}: {
  ending: Ending
  /** How long it ran, as a clock shows it. */
  after: string
  /** How far it was by its last mark, 0 to 1. */
  known: number | null
  /** A digit that was typed before any reason; says whether it stopped a timer. */
  onDigit: (number: number, at: number) => boolean
  /** With the reason and how far a failed run came, or null where the person thought better. */
  onDone: (reason: string | null, reached: number | null) => void
}) {
  const [reason, setReason] = useState("")
  const [far, setFar] = useState(known === null ? "" : `${Math.round(100 * known)}`)
  const reached = far.trim() === "" ? null : (readNumber(far.replace("%", "")) ?? Number.NaN) / 100
  const bad = reached !== null && !(reached >= 0 && reached <= 1)
  const end = (why: string) => {
    if (why.trim() && !bad) onDone(why.trim(), ending.kind === "failed" ? reached : null)
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    end(reason)
  }
  const pressed = (event: KeyboardEvent) => {
    const digit = /^(?:Digit|Numpad)([1-8])$/.exec(event.code)?.[1]
    // No reason begins with a digit: another timer that ends just now is not missed.
    const field = event.target instanceof HTMLInputElement ? event.target : null
    const asksWhy = field !== null && field.inputMode !== "decimal" && reason === ""
    if (digit !== undefined && asksWhy && !event.shiftKey && singleKeysOn()) {
      if (onDigit(Number(digit), momentOf(event))) event.preventDefault()
      return
    }
    if (event.key !== "Escape") return
    event.preventDefault()
    onDone(null, null)
  }
  return (
    <form onSubmit={submit} onKeyDown={pressed} className="mt-4 max-w-xl space-y-2">
      <TextField
        label={ending.kind === "void" ? "Why doesn't it count?" : "Why did it fail?"}
        value={reason}
        onText={setReason}
        maxLength={500}
        autoFocus
      />
      {ending.kind === "failed" && (
        <div className="w-56">
          <TextField
            label="How far did it get, in %?"
            value={far}
            onText={setFar}
            inputMode="decimal"
            error={bad ? "Type 0 to 100." : null}
          />
        </div>
      )}
      <div className="flex flex-wrap gap-2">
        {REASONS[ending.kind].map((each) => (
          <button
            key={each}
            type="button"
            className="btn btn-xs"
            onClick={() => end(each === ABANDONED ? `${each} ${after}` : each)}
          >
            {each}
          </button>
        ))}
      </div>
      <div className="flex gap-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          needs={
            !reason.trim() ? "Needs a reason." : bad && "Needs a percentage between 0 and 100."
          }
        >
          {ending.kind === "void" ? "Don't count it" : "Save the failure"}
        </ActButton>
        <button type="button" className="btn btn-ghost btn-sm" onClick={() => onDone(null, null)}>
          Cancel
        </button>
      </div>
    </form>
  )
}

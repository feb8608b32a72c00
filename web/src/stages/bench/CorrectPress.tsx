import { type FormEvent, useState } from "react"
import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import { ActButton } from "../../parts/ActButton"
import { Field, TextField } from "../../parts/Field"
import { clock, plain, readNumber } from "../../theme/format"

const WHICH = {
  "start late": { press: "start", sign: 1 },
  "start early": { press: "start", sign: -1 },
  "stop late": { press: "stop", sign: 1 },
  "stop early": { press: "stop", sign: -1 },
} as const
type Which = keyof typeof WHICH

/** Corrects a press that came late or early; the book keeps both values, and why. */
export function CorrectPress({ bench, lane }: { bench: Bench; lane: NumberedLane }) {
  const [open, setOpen] = useState(false)
  const [which, setWhich] = useState<Which>("start late")
  const [text, setText] = useState("")
  const [why, setWhy] = useState("")
  const seconds = readNumber(text) ?? Number.NaN
  const { press, sign } = WHICH[which]
  const was = lane.elapsedS ?? 0
  const will = was + (press === "start" ? 1 : -1) * sign * seconds
  const bad = !(seconds > 0 && seconds <= 3600 && will >= 0.1)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad || !why.trim()) return
    bench.correct(lane.number, press, sign * seconds, `${which} by ${seconds} s: ${why.trim()}`)
    setOpen(false)
    setText("")
  }
  if (!open) {
    return (
      <button
        type="button"
        className="mt-2 text-13 text-mute underline"
        onClick={() => setOpen(true)}
      >
        I pressed late or early
      </button>
    )
  }
  return (
    <form onSubmit={submit} className="mt-3 flex max-w-3xl flex-wrap items-end gap-2">
      <div className="w-32">
        <Field label="Which press">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-full bg-page"
              value={which}
              onChange={(event) => setWhich(event.target.value as Which)}
            >
              {Object.keys(WHICH).map((each) => (
                <option key={each}>{each}</option>
              ))}
            </select>
          )}
        </Field>
      </div>
      <div className="w-28">
        <TextField
          label="By how many s"
          value={text}
          onText={setText}
          inputMode="decimal"
          placeholder="2"
          error={text.trim() && bad ? `${plain(0.1)} to 3600` : null}
          autoFocus
        />
      </div>
      <div className="w-72">
        <TextField
          label="How do you know? (e.g. seen in the recording)"
          value={why}
          onText={setWhy}
          maxLength={200}
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        needs={
          bad ? "Needs seconds, and so few that a time is left." : !why.trim() && "Needs a reason."
        }
      >
        {bad ? "Correct it" : `Correct ${clock(was, 0.1)} to ${clock(will, 0.1)}`}
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setOpen(false)}>
        Cancel
      </button>
    </form>
  )
}

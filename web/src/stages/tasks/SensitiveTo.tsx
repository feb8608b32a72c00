import { useId, useState } from "react"
import { TextField } from "../../parts/Field"
import { useReading } from "../../parts/Reading"
import type { Outcome } from "../../parts/useEdit"
import { clock } from "../../theme/format"
import { readLength } from "../../theme/readLength"
import type { Change, Sheet } from "./job"

/** Conditions that the fairness of a pair knows by these words. */
const KNOWN = [
  "processor",
  "graphics",
  "memory",
  "drives",
  "system",
  "driver",
  "app version",
  "power",
  "background programs",
  "caches",
  "fresh boot",
  "screen",
  "room temperature",
]

/** What moves the time of a task besides the machine, and by how much at most. */
export function SensitiveTo({
  sheet,
  send,
}: {
  sheet: Sheet
  send: (values: Change) => Promise<Outcome>
}) {
  const reading = useReading()
  const [open, setOpen] = useState(false)
  const [to, setTo] = useState("")
  const [upTo, setUpTo] = useState("")
  const [wrong, setWrong] = useState<string | null>(null)
  const words = useId()
  const known = sheet.task.sensitivities
  const store = async (list: typeof known) => {
    const outcome = await send({ sensitivities: list })
    setWrong(outcome.saved ? null : outcome.reason)
    return outcome.saved
  }
  const add = async () => {
    const seconds = readLength(upTo)
    if (!to.trim()) return setWrong("Say to what it is sensitive.")
    if (seconds === null || seconds <= 0) return setWrong("Type it like 20 s or 1:10.")
    if (await store([...known, { to: to.trim(), up_to_s: seconds, why: "" }])) {
      setTo("")
      setUpTo("")
      setOpen(false)
    }
  }
  return (
    <div className="px-1 py-1">
      <ul>
        {known.map((each) => (
          <li key={`${each.to} ${each.up_to_s}`}>
            {each.to}, up to {clock(each.up_to_s)}{" "}
            {!reading && (
              <button
                type="button"
                className="text-13 underline"
                aria-label={`Not sensitive to ${each.to}`}
                onClick={() => void store(known.filter((other) => other !== each))}
              >
                Remove
              </button>
            )}
          </li>
        ))}
      </ul>
      {known.length === 0 && !open && <span className="text-mute">–</span>}{" "}
      {!reading && !open && (
        <button type="button" className="text-13 underline" onClick={() => setOpen(true)}>
          Add what moves it
        </button>
      )}
      {open && (
        <form
          aria-label="Sensitive to"
          className="mt-1 flex flex-wrap items-end gap-2"
          onSubmit={(event) => {
            event.preventDefault()
            void add()
          }}
        >
          <div className="w-44">
            <TextField label="Sensitive to" value={to} onText={setTo} list={words} autoFocus />
          </div>
          <datalist id={words}>
            {KNOWN.map((each) => (
              <option key={each} value={each} />
            ))}
          </datalist>
          <div className="w-24">
            <TextField label="up to" value={upTo} onText={setUpTo} placeholder="20 s" />
          </div>
          <button type="submit" className="btn btn-xs">
            Keep
          </button>
          <button type="button" className="btn btn-ghost btn-xs" onClick={() => setOpen(false)}>
            Cancel
          </button>
        </form>
      )}
      {wrong && (
        <p role="alert" className="text-12 text-accent">
          {wrong}
        </p>
      )}
    </div>
  )
}

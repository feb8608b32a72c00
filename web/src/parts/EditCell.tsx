import { type KeyboardEvent, useId, useRef, useState } from "react"
import type { Problem } from "../api/client"
import { problemOf } from "../api/client"
import { useReading } from "./Reading"

type Outcome = { saved: true } | { saved: false; reason: string }

/**
 * A cell that is edited in place: click or Enter to edit, Enter saves, Esc leaves it.
 * When someone else changed the same thing first, both values are shown to choose from.
 */
export function EditCell({
  label,
  shown,
  text,
  unit,
  onSave,
  theirs,
  choices,
  className = "",
}: {
  /** What the cell is, for a screen reader: "Cores of Halyard S". */
  label: string
  /** What stands there while nobody edits; empty shows a dash. */
  shown: string
  /** What the field starts with. */
  text: string
  unit?: string | null
  /** Stores the text; says what is wrong with it, or throws the server's problem. */
  onSave: (text: string) => Promise<Outcome>
  /** Reads the value that stands on the server now out of a conflict. */
  theirs: (problem: Problem) => string
  /** Words that are offered while typing. */
  choices?: readonly string[]
  className?: string
}) {
  const [draft, setDraft] = useState<string | null>(null)
  const [reason, setReason] = useState<string | null>(null)
  const [conflict, setConflict] = useState<{ mine: string; theirs: string } | null>(null)
  const [busy, setBusy] = useState(false)
  const button = useRef<HTMLButtonElement>(null)
  const base = useRef(text)
  const words = useId()
  const reading = useReading()

  const leave = () => {
    setDraft(null)
    setReason(null)
    requestAnimationFrame(() => button.current?.focus())
  }
  const store = async (value: string) => {
    const outcome = await onSave(value)
    if (!outcome.saved) return setReason(outcome.reason)
    setConflict(null)
    leave()
  }
  const clash = (mine: string, other: string) => {
    setConflict({ mine, theirs: other })
    setDraft(null)
  }
  const save = async (value: string) => {
    if (busy) return
    if (value === base.current && !conflict) return leave()
    // The cell itself was changed elsewhere while this edit was open, and has arrived since.
    if (text !== base.current && !conflict) return clash(value, text)
    setBusy(true)
    try {
      await store(value).catch((error: unknown) => {
        const problem = problemOf(error)
        if (problem?.status !== 409) throw error
        // Someone changed another cell of the same thing: nothing clashes, so save again.
        if (theirs(problem) === base.current || conflict) return store(value)
        return clash(value, theirs(problem))
      })
    } catch (error) {
      setReason(problemOf(error)?.detail ?? "It was not saved.")
    } finally {
      setBusy(false)
    }
  }
  const pressed = (event: KeyboardEvent) => {
    if (event.key === "Enter") void save(draft ?? "")
    else if (event.key === "Escape") leave()
    else return
    event.preventDefault()
    event.stopPropagation()
  }

  if (reading) {
    return (
      <span className={`block min-h-7 px-1 py-1 break-words ${className}`}>
        {shown || <span className="text-mute">–</span>}
        {shown && unit && <span className="text-[12px] text-mute"> {unit}</span>}
      </span>
    )
  }
  if (conflict) {
    return (
      <Conflict
        label={label}
        {...conflict}
        onMine={() => void save(conflict.mine)}
        onTheirs={() => {
          setConflict(null)
          setReason(null)
        }}
      />
    )
  }
  if (draft === null) {
    return (
      <button
        ref={button}
        type="button"
        aria-label={`${label}: ${shown || "empty"}${unit && shown ? ` ${unit}` : ""}. Edit`}
        className={`block min-h-7 w-full min-w-0 px-1 py-1 text-left break-words hover:bg-band ${className}`}
        onClick={() => {
          base.current = text
          setDraft(text)
        }}
      >
        {shown || <span className="text-mute">–</span>}
        {shown && unit && <span className="text-[12px] text-mute"> {unit}</span>}
      </button>
    )
  }
  return (
    <div className="min-w-0">
      <input
        // biome-ignore lint/a11y/noAutofocus: the person just asked to edit this very cell
        autoFocus
        aria-label={label}
        aria-invalid={reason !== null}
        list={choices?.length ? words : undefined}
        className="input input-xs h-7 w-full min-w-0 bg-page px-1 text-[14px]"
        value={draft}
        onChange={(event) => setDraft(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => void save(draft)}
        onKeyDown={pressed}
      />
      {choices && choices.length > 0 && (
        <datalist id={words}>
          {choices.map((each) => (
            <option key={each} value={each} />
          ))}
        </datalist>
      )}
      {reason && (
        <p role="alert" className="text-[12px] text-accent">
          {reason}
        </p>
      )}
    </div>
  )
}

function Conflict({
  label,
  mine,
  theirs,
  onMine,
  onTheirs,
}: {
  label: string
  mine: string
  theirs: string
  onMine: () => void
  onTheirs: () => void
}) {
  return (
    <div role="alert" className="border border-accent bg-page p-1.5 text-[12px]">
      <p className="sr-only">{label}</p>
      <p>Changed elsewhere meanwhile. Keep which?</p>
      <div className="mt-1 flex flex-col gap-1">
        <button type="button" className="btn btn-xs justify-start" onClick={onMine}>
          Yours: {mine || "empty"}
        </button>
        <button type="button" className="btn btn-xs justify-start" onClick={onTheirs}>
          Theirs: {theirs || "empty"}
        </button>
      </div>
    </div>
  )
}

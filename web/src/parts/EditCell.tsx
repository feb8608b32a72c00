import { type KeyboardEvent, useId } from "react"
import type { Problem } from "../api/client"
import { useReading } from "./Reading"
import { type Outcome, useEdit } from "./useEdit"

type Props = {
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
}

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
}: Props) {
  const cell = useEdit({ text, onSave, theirs })
  const { draft, sending, reason, conflict } = cell
  const now = sending ?? shown
  const words = useId()
  const reading = useReading()
  const pressed = (event: KeyboardEvent) => {
    if (event.key === "Enter") void cell.save(draft ?? "")
    else if (event.key === "Escape") cell.leave()
    else return
    event.preventDefault()
    event.stopPropagation()
  }

  if (reading) {
    return (
      <span className={`block min-h-7 px-1 py-1 break-words ${className}`}>
        <Shown shown={shown} unit={unit} />
      </span>
    )
  }
  if (conflict) {
    return (
      <Conflict
        label={label}
        {...conflict}
        onMine={() => void cell.save(conflict.mine)}
        onTheirs={cell.takeTheirs}
      />
    )
  }
  if (draft === null) {
    return (
      <button
        ref={cell.button}
        type="button"
        aria-label={`${label}: ${now || "empty"}${unit && now ? ` ${unit}` : ""}. Edit`}
        className={`block min-h-7 w-full min-w-0 px-1 py-1 text-left break-words hover:bg-band ${className}`}
        onClick={cell.begin}
      >
        <Shown shown={now} unit={unit} />
      </button>
    )
  }
  return (
    <div className="min-w-0">
      <input
        // biome-ignore lint/a11y/noAutofocus: the person just asked to edit this very cell
        autoFocus={cell.takesFocus()}
        aria-label={label}
        aria-invalid={reason !== null}
        list={choices?.length ? words : undefined}
        className="input input-xs h-7 w-full min-w-0 bg-page px-1 text-14"
        value={draft}
        onChange={(event) => cell.type(event.target.value)}
        onFocus={(event) => event.target.select()}
        onBlur={() => void cell.save(draft)}
        onKeyDown={pressed}
      />
      <Offered id={words} choices={choices} />
      {reason && (
        <p role="alert" className="text-12 text-accent">
          {reason}
        </p>
      )}
    </div>
  )
}

/** A value with its unit, or a dash where there is none. */
function Shown({ shown, unit }: { shown: string; unit: string | null | undefined }) {
  return (
    <>
      {shown || <span className="text-mute">–</span>}
      {shown && unit && <span className="text-12 text-mute"> {unit}</span>}
    </>
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
    <div role="alert" className="border border-accent bg-page p-1.5 text-12">
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

/** Words that are offered while typing. */
function Offered({ id, choices }: { id: string; choices: readonly string[] | undefined }) {
  if (!choices?.length) return null
  return (
    <datalist id={id}>
      {choices.map((each) => (
        <option key={each} value={each} />
      ))}
    </datalist>
  )
}

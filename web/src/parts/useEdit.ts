import { useRef, useState } from "react"
import { type Problem, problemOf } from "../api/client"

/** Whether a text was stored, and if not, why. */
export type Outcome = { saved: true } | { saved: false; reason: string }

type Editing = {
  /** What stands there now. */
  text: string
  /** Stores the text; says what is wrong with it, or throws the server's problem. */
  onSave: (text: string) => Promise<Outcome>
  /** Reads the value that stands on the server now out of a conflict. */
  theirs: (problem: Problem) => string
}

/** What happens to a cell while it is edited: draft, refusal, and a clash with somebody else. */
export function useEdit({ text, onSave, theirs }: Editing) {
  const [draft, setDraft] = useState<string | null>(null)
  const [reason, setReason] = useState<string | null>(null)
  const [conflict, setConflict] = useState<{ mine: string; theirs: string } | null>(null)
  const [busy, setBusy] = useState(false)
  const button = useRef<HTMLButtonElement>(null)
  const base = useRef(text)

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
  return {
    draft,
    reason,
    conflict,
    button,
    leave,
    save,
    type: (next: string) => setDraft(next),
    begin: () => {
      base.current = text
      setDraft(text)
    },
    takeTheirs: () => {
      setConflict(null)
      setReason(null)
    },
  }
}

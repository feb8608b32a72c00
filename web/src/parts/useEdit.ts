import { useEffect, useRef, useState } from "react"
import { type Problem, problemOf } from "../api/client"

/** Whether a text was stored, and if not, why. */
export type Outcome = { saved: true } | { saved: false; reason: string }

const HEARD_WITHIN_MS = 1500

type Editing = {
  /** What stands there now. */
  text: string
  /** Stores the text; says what is wrong with it, or throws the server's problem. */
  onSave: (text: string) => Promise<Outcome>
  /** Reads the value that stands on the server now out of a conflict. */
  theirs: (problem: Problem) => string
}

/**
 * What happens to a cell while it is edited: draft, refusal, and a clash with somebody else.
 *
 * A cell closes as soon as it is left and is stored behind that; it takes the focus back only
 * from nowhere, never from another cell that somebody types in by then.
 */
export function useEdit({ text, onSave, theirs }: Editing) {
  const [draft, setDraft] = useState<string | null>(null)
  /** What is on its way; it is shown until it stands there. */
  const [sending, setSending] = useState<string | null>(null)
  const [reason, setReason] = useState<string | null>(null)
  const [conflict, setConflict] = useState<{ mine: string; theirs: string } | null>(null)
  const button = useRef<HTMLButtonElement>(null)
  const base = useRef(text)
  /** Texts that stood there by this hand: one that comes back late is nobody else's change. */
  const own = useRef(new Set<string>())
  const count = useRef(0)
  const takesFocus = useRef(true)

  useEffect(() => {
    if (own.current.has(text))
      setSending((now) => (now === null || text !== base.current ? now : null))
  }, [text])

  const leave = () => {
    setDraft(null)
    setReason(null)
    requestAnimationFrame(() => {
      if (isFree()) button.current?.focus()
    })
  }
  const refuse = (value: string, why: string, edit: number) => {
    if (edit !== count.current) return
    // Back into the field only where the focus is here still, or nowhere.
    takesFocus.current = isFree() || document.activeElement === button.current
    setReason(why)
    setDraft(value)
  }
  const clash = (mine: string, other: string) => {
    setDraft(null)
    setConflict({ mine, theirs: other })
  }
  const store = async (value: string): Promise<void> => {
    const outcome = await onSave(value)
    if (!outcome.saved) throw new RefusedText(outcome.reason)
    setConflict(null)
  }
  const save = async (value: string) => {
    if (value === base.current && !conflict) return leave()
    const foreign = text !== base.current && !own.current.has(text)
    // The cell itself was changed elsewhere while this edit was open, and has arrived since.
    if (foreign && !conflict) return clash(value, text)
    count.current += 1
    const edit = count.current
    const before = base.current
    own.current.add(before).add(value)
    base.current = value
    setSending(value)
    leave()
    try {
      await store(value).catch((error: unknown) => {
        const problem = problemOf(error)
        if (problem?.status !== 409) throw error
        const stands = theirs(problem)
        // Someone changed another cell of the same thing: nothing clashes, so save again.
        if (stands === before || own.current.has(stands) || conflict) return store(value)
        return clash(value, stands)
      })
    } catch (error) {
      const refused = error instanceof RefusedText ? error.message : problemOf(error)?.detail
      if (edit === count.current) base.current = before
      refuse(value, refused ?? "It was not saved.", edit)
      if (edit === count.current) setSending(null)
      return
    }
    // The screen hears of it a moment later; where it reads the same as before, it never does.
    setTimeout(() => {
      if (edit === count.current) setSending(null)
    }, HEARD_WITHIN_MS)
  }
  return {
    draft,
    sending,
    reason,
    conflict,
    button,
    leave,
    save,
    type: (next: string) => setDraft(next),
    /** Whether the field takes the focus as it opens. */
    takesFocus: () => takesFocus.current,
    begin: () => {
      takesFocus.current = true
      base.current = sending ?? text
      setDraft(sending ?? text)
    },
    takeTheirs: () => {
      setConflict(null)
      setReason(null)
    },
  }
}

/** A text that cannot be stored; its message says why. */
class RefusedText extends Error {}

/** Whether nobody has the focus, so that taking it disturbs nobody. */
export function isFree(): boolean {
  return document.activeElement === null || document.activeElement === document.body
}

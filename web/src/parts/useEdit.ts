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
  const count = useRef(0)
  const takesFocus = useRef(true)

  const own = useOwnTexts(text, (last) => {
    if (last || text === base.current) setSending(null)
  })

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
    // What is being typed by then is kept: it is newer than what was refused.
    setDraft((now) => now ?? value)
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
    const foreign = text !== base.current && !own.stoodHere(text)
    // The cell itself was changed elsewhere while this edit was open, and has arrived since.
    if (foreign && !conflict) return clash(value, text)
    const edit = ++count.current
    const before = base.current
    own.sent(before, value)
    base.current = value
    setSending(value)
    leave()
    try {
      await store(value).catch((error: unknown) => {
        const problem = problemOf(error)
        if (problem?.status !== 409) throw error
        const stands = theirs(problem)
        // Someone changed another cell of the same thing: nothing clashes, so save again.
        if (stands === before || own.wasTyped(stands) || conflict) return store(value)
        return clash(value, stands)
      })
    } catch (error) {
      const refused = error instanceof RefusedText ? error.message : problemOf(error)?.detail
      own.refused()
      if (edit === count.current) base.current = before
      refuse(value, refused ?? "It was not saved.", edit)
      if (edit === count.current) setSending(null)
      return
    }
    // The screen hears of it a moment later; where it reads the same as before, it never does.
    setTimeout(() => {
      if (edit !== count.current) return
      own.done()
      setSending(null)
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

/**
 * Texts that stood in a cell by this hand: one that comes back late is nobody else's change.
 *
 * The server may write otherwise what was typed ("16" for "16 gb"), so the text that arrives
 * after a save is one's own too; only what was typed counts where a conflict is judged.
 */
function useOwnTexts(text: string, onArrived: (last: boolean) => void) {
  const typed = useRef(new Set<string>())
  const arrived = useRef(new Set<string>())
  const awaited = useRef(0)
  const told = useRef(onArrived)
  told.current = onArrived
  useEffect(() => {
    if (awaited.current === 0) return
    awaited.current -= 1
    arrived.current.add(text)
    told.current(awaited.current === 0)
  }, [text])
  return {
    wasTyped: (each: string) => typed.current.has(each),
    stoodHere: (each: string) => typed.current.has(each) || arrived.current.has(each),
    sent: (before: string, value: string) => {
      typed.current.add(before).add(value)
      awaited.current += 1
    },
    refused: () => {
      awaited.current = Math.max(0, awaited.current - 1)
    },
    done: () => {
      awaited.current = 0
    },
  }
}

/** A text that cannot be stored; its message says why. */
class RefusedText extends Error {}

/** Whether nobody has the focus, so that taking it disturbs nobody. */
export function isFree(): boolean {
  return document.activeElement === null || document.activeElement === document.body
}

import { useEffect, useRef, useState } from "react"
import { useChangeCard } from "../../api/cards"
import { problemOf, type Schemas } from "../../api/client"
import { compact, readNumber } from "../../theme/format"

/** Words are kept a moment after they were typed, a choice at once. */
const WORDS_AFTER_MS = 600
const WORDS = ["title", "subtitle", "source", "seconds"]

export type Setups = { order?: string[]; highlighted?: string[]; left_out?: string[] }
export type CardDraft = {
  title?: string | null
  subtitle?: string | null
  source?: string | null
  seconds?: string
  task_id?: string | null
  viewer_id?: string | null
  setups?: Setups
}

/** A card as it is edited: shown at once, kept one change after the other. */
export function useCardDraft(slug: string, view: Schemas["CardView"]) {
  const change = useChangeCard(slug)
  const [asked, setAsked] = useState<CardDraft>({})
  const version = useRef(view.card.version)
  // What is asked for builds on the card that was seen: another's change in the meantime is
  // asked about, never written over.
  if (Object.keys(asked).length === 0 && !change.isPending) version.current = view.card.version
  const stands = problemOf(change.error)?.current as { version?: number } | undefined
  const busy = change.isPending
  const failed = change.isError
  const send = change.mutate
  const id = view.card.id
  useEffect(() => {
    if (Object.keys(asked).length === 0 || busy || failed) return
    const wait = Object.keys(asked).every((field) => WORDS.includes(field)) ? WORDS_AFTER_MS : 0
    const timer = setTimeout(() => {
      const { seconds, ...others } = asked
      const body = {
        ...others,
        ...(seconds === undefined ? {} : { seconds: readNumber(seconds) ?? Number.NaN }),
        version: version.current,
      } as Schemas["CardChange"]
      send(
        { id, body },
        {
          onSuccess: (made) => {
            version.current = made.card.version
            // What was asked for meanwhile is kept next.
            setAsked((now) =>
              Object.fromEntries(
                Object.entries(now).filter(
                  ([field, value]) => asked[field as keyof CardDraft] !== value,
                ),
              ),
            )
          },
        },
      )
    }, wait)
    return () => clearTimeout(timer)
  }, [asked, busy, failed, send, id])
  const known = view.card.setups as Setups
  return {
    words: {
      title: asked.title ?? view.title,
      subtitle: asked.subtitle ?? view.subtitle,
      source: asked.source ?? view.source,
      seconds: asked.seconds ?? compact(view.card.seconds),
    },
    task: asked.task_id === undefined ? view.card.task_id : asked.task_id,
    viewer: asked.viewer_id === undefined ? view.card.viewer_id : asked.viewer_id,
    setups: { ...known, ...asked.setups },
    unkept: Object.keys(asked).length > 0 || busy,
    error: change.error,
    stale: stands?.version !== undefined,
    ask: (next: CardDraft) => {
      // A field that was refused may be right now.
      if (failed && stands?.version === undefined) change.reset()
      const setups = next.setups && { ...asked.setups, ...next.setups }
      setAsked({ ...asked, ...next, ...(setups ? { setups } : {}) })
    },
    keepMine: () => {
      version.current = stands?.version ?? version.current
      change.reset()
    },
    takeTheirs: () => {
      version.current = stands?.version ?? version.current
      setAsked({})
      change.reset()
    },
  }
}

import { useEffect, useRef, useState } from "react"
import { useChangeCard } from "../../api/cards"
import { problemOf, type Schemas } from "../../api/client"

const KEEP_AFTER_MS = 600

type Words = { title: string; subtitle: string; source: string; seconds: string }

const wordsOf = (view: Schemas["CardView"]): Words => ({
  title: view.title,
  subtitle: view.subtitle,
  source: view.source,
  seconds: String(view.card.seconds),
})

/** The words of a card as they are typed, kept a moment later; other changes are kept at once. */
export function useCardDraft(slug: string, view: Schemas["CardView"]) {
  const change = useChangeCard(slug)
  const [typed, setTyped] = useState<Partial<Words>>({})
  const version = useRef(view.card.version)
  // After a refused change the version that was read stays, until the person has chosen.
  if (!change.isError) version.current = Math.max(version.current, view.card.version)
  const send = (body: Omit<Schemas["CardChange"], "version">, done?: () => void) =>
    change.mutate(
      { id: view.card.id, body: { ...body, version: version.current } as Schemas["CardChange"] },
      {
        onSuccess: (made) => {
          version.current = made.card.version
          done?.()
        },
      },
    )
  const stands = problemOf(change.error)?.current as { version?: number } | undefined
  const latest = useRef(send)
  latest.current = send
  const busy = change.isPending
  useEffect(() => {
    if (Object.keys(typed).length === 0 || busy) return
    const timer = setTimeout(() => {
      const sent = typed
      const seconds = Number(sent.seconds?.replace(",", "."))
      const { seconds: _, ...words } = sent
      latest.current(
        { ...words, ...(sent.seconds === undefined ? {} : { seconds }) } as never,
        () =>
          // What was typed meanwhile is kept next.
          setTyped((now) =>
            Object.fromEntries(
              Object.entries(now).filter(([key, value]) => sent[key as keyof Words] !== value),
            ),
          ),
      )
    }, KEEP_AFTER_MS)
    return () => clearTimeout(timer)
  }, [typed, busy])
  return {
    words: { ...wordsOf(view), ...typed },
    unkept: Object.keys(typed).length > 0 || busy,
    error: change.error,
    stale: stands?.version !== undefined,
    type: (field: keyof Words, text: string) => setTyped({ ...typed, [field]: text }),
    send,
    keepMine: () => {
      version.current = stands?.version ?? version.current
      change.reset()
      setTyped({ ...typed })
    },
    takeTheirs: () => {
      version.current = stands?.version ?? version.current
      setTyped({})
      change.reset()
    },
  }
}

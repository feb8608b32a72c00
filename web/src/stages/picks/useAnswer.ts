import { useEffect, useRef, useState } from "react"
import type { Schemas } from "../../api/client"
import { tryPick } from "../../api/picks"

type Answer = { trial: string; view: Schemas["PickView"] | null; error: unknown }

/**
 * The answer to what is tried, asked anew whenever it changes. One question is under way at a
 * time: while a slider moves, only its latest place is asked next. Nothing is stored.
 */
export function useAnswer(
  slug: string,
  trial: Schemas["WhatIf"] | null,
): { view: Schemas["PickView"] | null; error: unknown; waiting: boolean } {
  const wanted = trial === null ? null : JSON.stringify(trial)
  const [answer, setAnswer] = useState<Answer | null>(null)
  const next = useRef<string | null>(null)
  const busy = useRef(false)
  const alive = useRef(true)
  useEffect(() => {
    alive.current = true
    return () => {
      alive.current = false
    }
  }, [])
  useEffect(() => {
    next.current = wanted
    const ask = async () => {
      if (busy.current) return
      busy.current = true
      while (alive.current && next.current !== null) {
        const asked = next.current
        next.current = null
        try {
          const view = await tryPick(slug, JSON.parse(asked) as Schemas["WhatIf"])
          if (alive.current) setAnswer({ trial: asked, view, error: null })
        } catch (error) {
          // What was answered last stays beside what is wrong now.
          if (alive.current) {
            setAnswer((last) => ({ trial: asked, view: last?.view ?? null, error }))
          }
        }
      }
      busy.current = false
    }
    void ask()
  }, [slug, wanted])
  if (wanted === null) return { view: null, error: null, waiting: false }
  return {
    view: answer?.view ?? null,
    error: answer?.trial === wanted ? answer.error : null,
    waiting: answer?.trial !== wanted,
  }
}

import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../api/client"
import { count } from "../theme/format"
import { STAGES } from "./stages"

type Next = Schemas["NextThing"]

/** A step by what it is and what it is about: another run that looks odd is another step. */
const nameOf = (next: Next) => `${next.kind} ${JSON.stringify(next.action.search)}`

/** Steps that were put off on this device, by shootout. */
function useLater(slug: string): [string[], (names: string[]) => void] {
  const place = `later: ${slug}`
  const [names, setNames] = useState<string[]>(() => {
    try {
      return JSON.parse(localStorage.getItem(place) ?? "[]") as string[]
    } catch {
      return []
    }
  })
  const put = (next: string[]) => {
    setNames(next)
    try {
      localStorage.setItem(place, JSON.stringify(next))
    } catch {
      // Where nothing can be kept, it is put off until the page is left.
    }
  }
  return [names, put]
}

/** The one most useful next thing; its button says what it does, and it can be put off. */
export function NextStrip({ slug, next }: { slug: string; next: Next[] | undefined }) {
  const [later, setLater] = useLater(slug)
  const shown = next?.find((each) => !later.includes(nameOf(each)))
  return (
    <footer className="print:hidden flex min-h-10 shrink-0 items-center gap-3 border-t border-line bg-page px-4 py-1 md:px-5">
      <span className="text-13 text-mute max-sm:sr-only">Next</span>
      {next && !shown && (
        <>
          <p className="min-w-0 flex-1 text-13">{count(next.length, "step")} put off.</p>
          <button type="button" className="text-13 underline" onClick={() => setLater([])}>
            Show {next.length === 1 ? "it" : "them"}
          </button>
        </>
      )}
      {shown && (
        <>
          <p className="min-w-0 flex-1 text-13 leading-4">
            <strong>{shown.strong}</strong> {shown.text}
          </p>
          {shown.kind !== "done" && (
            <button
              type="button"
              className="shrink-0 text-13 text-mute underline"
              onClick={() => setLater([...later, nameOf(shown)])}
            >
              Later
            </button>
          )}
          {shown.other && (
            <ActionLink slug={slug} action={shown.other} className="text-13 underline" />
          )}
          <ActionLink
            slug={slug}
            action={shown.action}
            className="btn btn-primary btn-xs h-7 px-3 text-13"
          />
        </>
      )}
    </footer>
  )
}

function ActionLink({
  slug,
  action,
  className,
}: {
  slug: string
  action: Schemas["NextAction"]
  className: string
}) {
  const stage = STAGES.find((each) => each.id === action.stage)
  if (!stage) return null
  return (
    <Link
      to={stage.path}
      params={{ slug }}
      search={action.search as Record<string, string>}
      className={`shrink-0 ${className}`}
    >
      {action.words}
    </Link>
  )
}

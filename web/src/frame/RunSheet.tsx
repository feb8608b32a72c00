import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../api/client"
import { STAGES, type StageId } from "./stages"

const NARROW = "tm-narrow-sheet"

/** The run sheet: progress, checklist and the way around, in the order of the work. */
export function RunSheet({
  slug,
  stage,
  lines,
}: {
  slug: string
  stage: StageId
  /** Live state of each stage; undefined while it is loading. */
  lines: Schemas["StageLine"][] | undefined
}) {
  const [narrow, setNarrow] = useState(() => localStorage.getItem(NARROW) === "yes")
  const [open, setOpen] = useState(false)
  const current = STAGES.find((each) => each.id === stage)
  const flip = () => {
    localStorage.setItem(NARROW, narrow ? "no" : "yes")
    setNarrow(!narrow)
  }
  return (
    <nav
      aria-label="Stages"
      className={`print:hidden shrink-0 border-line bg-base-200 md:flex md:flex-col md:border-r ${narrow ? "md:w-12" : "md:w-54"}`}
    >
      <button
        type="button"
        className="flex w-full items-center gap-2 border-b border-line px-4 py-2 text-left font-bold md:hidden"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        <span className="figure text-mute">{current?.number}</span> {current?.name}
        <span className="ml-auto text-13 font-normal text-mute">{open ? "Close" : "Menu"}</span>
      </button>
      <ol className={`${open ? "block" : "hidden"} py-3 md:block md:flex-1`}>
        {STAGES.map((each) => (
          <StageItem
            key={each.id}
            slug={slug}
            each={each}
            line={lines?.find((line) => line.stage === each.id)}
            here={each.id === stage}
            narrow={narrow}
            onGo={() => setOpen(false)}
          />
        ))}
      </ol>
      <button
        type="button"
        className="hidden px-4 py-2 text-left text-12 text-mute underline md:block"
        onClick={flip}
      >
        {narrow ? "›››" : "Collapse"}
        {narrow && <span className="sr-only">show the whole run sheet</span>}
      </button>
    </nav>
  )
}

/** Parts of a line; none is broken over two. */
function Parts({ parts }: { parts: string[] }) {
  return parts.map((part, at) => (
    <span key={part}>
      {at > 0 && " · "}
      <span className={part.length < 24 ? "whitespace-nowrap" : ""}>{part}</span>
    </span>
  ))
}

function StageItem({
  slug,
  each,
  line,
  here,
  narrow,
  onGo,
}: {
  slug: string
  each: (typeof STAGES)[number]
  line: Schemas["StageLine"] | undefined
  here: boolean
  narrow: boolean
  onGo: () => void
}) {
  const inside = (
    <>
      <span className="figure w-3 shrink-0 text-12 text-mute">{each.number}</span>
      <span className={`min-w-0 ${narrow ? "md:sr-only" : ""}`}>
        <span className="block font-head text-15 font-bold">{each.name}</span>
        <span className="block text-13 leading-4 text-mute">
          <Parts parts={line?.facts ?? []} />
          {line && line.todo.length > 0 && (
            <>
              {line.facts.length > 0 && " · "}
              <span className="text-accent">
                <Parts parts={line.todo} />
              </span>
            </>
          )}
        </span>
      </span>
    </>
  )
  const layout = `flex items-baseline gap-3 px-4 py-2 ${here ? "jawed" : ""}`
  return (
    <li>
      <Link
        to={each.path}
        params={{ slug }}
        className={`${layout} hover:bg-base-300/40`}
        aria-current={here ? "step" : undefined}
        onClick={onGo}
      >
        {inside}
      </Link>
    </li>
  )
}

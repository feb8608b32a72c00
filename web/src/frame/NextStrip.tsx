import { Link } from "@tanstack/react-router"
import type { Schemas } from "../api/client"
import { STAGES } from "./stages"

/** The one most useful next thing; the button says what it does there. */
export function NextStrip({
  slug,
  next,
}: {
  slug: string
  next: Schemas["NextThing"] | undefined
}) {
  const stage = STAGES.find((each) => each.id === next?.stage)
  return (
    <footer className="print:hidden flex min-h-10 shrink-0 items-center gap-3 border-t border-line bg-page px-4 py-1 md:px-5">
      <span className="text-[13px] text-mute">Next</span>
      {next && (
        <p
          className="min-w-0 flex-1 text-[13px] leading-4 md:truncate"
          title={`${next.strong} ${next.text}`}
        >
          <strong>{next.strong}</strong> {next.text}
        </p>
      )}
      {next && stage?.path && (
        <Link
          to={stage.path}
          params={{ slug }}
          search={searchOf(next)}
          className="btn btn-primary btn-xs ml-auto h-7 shrink-0 px-3 text-[13px]"
        >
          {next.action}
        </Link>
      )}
    </footer>
  )
}

/** Where on its stage the next thing is: a view of Publish, else what is to be at hand. */
function searchOf({ stage, focus }: Schemas["NextThing"]): { view?: string; focus?: string } {
  if (!focus) return {}
  return stage === "publish" ? { view: focus } : { focus }
}

import { Link } from "@tanstack/react-router"
import { VIEWS, type ViewId } from "./views"

/** One line of views; a number says how many things wait in one. */
export function ViewBar({
  slug,
  current,
  task,
  waiting,
}: {
  slug: string
  current: ViewId
  task: string
  waiting: Partial<Record<ViewId, number>>
}) {
  return (
    <nav aria-label="Views" className="mb-4 flex flex-wrap gap-x-5 gap-y-1 border-b border-line">
      {VIEWS.map((view) => {
        const here = view.id === current
        const number = waiting[view.id]
        return (
          <Link
            key={view.id}
            to="/s/$slug/margins"
            params={{ slug }}
            search={view.id === "ladder" ? { task } : { task, view: view.id }}
            aria-current={here ? "page" : undefined}
            className={`-mb-px border-b-2 pb-1 text-[14px] ${
              here ? "border-base-content font-bold" : "border-transparent text-mute"
            }`}
          >
            {view.title}
            {number ? <span className="figure ml-1 text-accent">{number}</span> : null}
          </Link>
        )
      })}
    </nav>
  )
}

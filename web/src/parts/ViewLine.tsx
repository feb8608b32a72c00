import { Link } from "@tanstack/react-router"

/** One line of views of a stage; a number says how many things wait in one. */
export function ViewLine({
  slug,
  stage,
  views,
  current,
  search,
}: {
  slug: string
  stage: "/s/$slug/margins" | "/s/$slug/picks" | "/s/$slug/publish"
  views: readonly { id: string; title: string; number?: number }[]
  current: string
  /** The address of a view. */
  search: (id: string) => Record<string, string>
}) {
  return (
    <nav aria-label="Views" className="mb-4 flex flex-wrap gap-x-5 gap-y-1 border-b border-line">
      {views.map((view) => (
        <Link
          key={view.id}
          to={stage}
          params={{ slug }}
          search={search(view.id)}
          aria-current={view.id === current ? "page" : undefined}
          className={`-mb-px border-b-2 pb-1 text-14 ${
            view.id === current ? "border-base-content font-bold" : "border-transparent text-mute"
          }`}
        >
          {view.title}
          {view.number ? <span className="figure ml-1 text-accent">{view.number}</span> : null}
        </Link>
      ))}
    </nav>
  )
}

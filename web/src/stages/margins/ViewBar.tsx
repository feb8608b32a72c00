import { ViewLine } from "../../parts/ViewLine"
import { VIEWS, type ViewId } from "./views"

/** The views beside the ladder; a number says how many things wait in one. */
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
    <ViewLine
      slug={slug}
      stage="/s/$slug/margins"
      current={current}
      views={VIEWS.map((view) => ({ ...view, number: waiting[view.id] ?? 0 }))}
      search={(id) => (id === "ladder" ? { task } : { task, view: id })}
    />
  )
}

import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { count } from "../../theme/format"

/** What stands on feet of clay: estimates, the weakest link, who is not ranked; what to time. */
export function Beside({ view }: { view: Schemas["AllTimeView"] }) {
  const carried = view.lines.filter((line) => line.carried > 0)
  return (
    <aside
      aria-label="How sure it is"
      className="shrink-0 border-line bg-page px-5 py-5 text-14 max-lg:border-t lg:w-72 lg:border-l"
    >
      {view.next && (
        <section className="mb-5 border border-base-content p-3">
          <h2 className="text-14">What to time next</h2>
          <p className="mt-1">{view.next.words}</p>
          {view.next.slug && (
            <p className="mt-2">
              <Link
                to="/s/$slug/bench"
                params={{ slug: view.next.slug }}
                className="btn btn-primary btn-xs h-7 px-3 text-13"
              >
                Open the bench
              </Link>
            </p>
          )}
        </section>
      )}
      {carried.length > 0 && (
        <section>
          <h2 className="text-14">Estimated, not timed in {view.versions.at(-1)?.name}</h2>
          <p className="text-12 text-mute">
            By the machines timed before and after; hollow in the picture, with a wider interval.
          </p>
          <ul className="mt-2">
            {carried.map((line) => (
              <li key={line.label} className="border-t border-line py-2">
                <span className="flex items-center gap-2">
                  <SetupMark index={line.mark} />
                  <span className="min-w-0 flex-1 break-words">{line.label}</span>
                  <span className="figure whitespace-nowrap">≈ {line.shown}</span>
                </span>
                <span className="block text-12 text-mute">
                  {line.range}, from {line.timed_in}, over {count(line.carried, "update")}
                </span>
              </li>
            ))}
          </ul>
          {view.uneven && <p className="mt-1 text-12 text-mute">{view.uneven}</p>}
        </section>
      )}
      {view.weakest && (
        <section className="mt-5 border-t border-line pt-4">
          <h2 className="text-14">Weakest link</h2>
          <p className="mt-1">{view.weakest}</p>
        </section>
      )}
      {view.left_out.length > 0 && (
        <section className="mt-5 border-t border-line pt-4">
          <h2 className="text-14">Not ranked</h2>
          <ul className="mt-1 space-y-1">
            {view.left_out.map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
        </section>
      )}
      {!view.next && carried.length === 0 && view.lines.length > 0 && (
        <p>Every machine here was timed in the newest version.</p>
      )}
    </aside>
  )
}

import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"

/** Setups below the ladder, each with the reason; nobody is left out in silence. */
export function OffLadder({ slug, off }: { slug: string; off: Schemas["OffRow"][] }) {
  const placeOf = useSetupPlaces(slug)
  if (off.length === 0) return null
  return (
    <section className="mt-4">
      <h2 className="mb-1 text-14">Not ranked</h2>
      <ul className="max-w-3xl">
        {off.map((row) => (
          <li key={row.setup_id} className="flex items-baseline gap-2 py-0.5">
            <SetupMark index={placeOf(row.setup_id)} size={11} />
            <span className="min-w-0">
              <strong>{row.label}</strong> <span className="text-mute">{row.reason}</span>
              {row.mend && (
                <span className="block text-13">
                  To rank it, {row.mend.words}.{" "}
                  <Link
                    to="/s/$slug/bench"
                    params={{ slug }}
                    search={{ focus: `${row.mend.setup_id}:${row.mend.task_id}` }}
                    className="underline decoration-line"
                  >
                    Time it
                  </Link>
                </span>
              )}
            </span>
          </li>
        ))}
      </ul>
    </section>
  )
}

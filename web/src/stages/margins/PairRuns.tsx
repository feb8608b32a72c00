import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { NotePart } from "../../parts/SideNote"
import { runValue } from "../../theme/format"

export function PairRuns({ slug, pair }: { slug: string; pair: Schemas["PairView"] }) {
  return (
    <NotePart title="Runs behind it">
      <ul className="flex flex-wrap gap-x-3 gap-y-0.5">
        {pair.runs.map((run) => (
          <li key={run.id} className="figure text-13">
            <Link
              to="/s/$slug/runs"
              params={{ slug }}
              search={{ run: run.id }}
              className={
                run.status === "ok" ? "underline decoration-line" : "text-mute line-through"
              }
            >
              {runValue(run, pair.measure)}
            </Link>
          </li>
        ))}
      </ul>
    </NotePart>
  )
}

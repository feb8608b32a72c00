import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { runsQuery } from "../../api/queries"
import type { Lane } from "../../lanes/lane"
import { runValue } from "../../theme/format"

/** What the lane's setup did on this task before, newest last. */
export function EarlierRuns({ slug, lane }: { slug: string; lane: Lane }) {
  const { data } = useQuery(runsQuery(slug))
  const runs = data?.runs.filter(
    ({ run }) => run.setup_id === lane.setupId && run.task_id === lane.taskId,
  )
  if (!runs || runs.length === 0) return null
  return (
    <p className="mt-3 flex flex-wrap items-baseline gap-x-3 text-13 text-mute">
      its runs so far
      {runs.map(({ run }) => (
        <Link
          key={run.id}
          to="/s/$slug/runs"
          params={{ slug }}
          search={{ run: run.id }}
          title={run.status === "ok" ? undefined : `${run.status}: ${run.reason}`}
          className={`figure ${run.status === "ok" ? "text-base-content" : "line-through"}`}
        >
          {run.value === null ? run.status : runValue(run, "time")}
        </Link>
      ))}
    </p>
  )
}

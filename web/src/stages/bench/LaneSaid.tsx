import { useQuery } from "@tanstack/react-query"
import { saidQuery } from "../../api/bench"
import type { NumberedLane } from "../../lanes/desk"

/** What may be said of the run that just ended, and what one more would do. */
export function LaneSaid({ slug, lane }: { slug: string; lane: NumberedLane }) {
  const stopped = lane.phase === "stopped"
  const { data } = useQuery(saidQuery(slug, lane.key, stopped))
  if (!stopped || !data) return null
  return (
    <p className="mt-1">
      <strong>{data.says}</strong> {data.next && <span className="text-mute">{data.next}</span>}
    </p>
  )
}

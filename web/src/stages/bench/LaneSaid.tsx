import { useQuery } from "@tanstack/react-query"
import { saidQuery } from "../../api/bench"
import type { NumberedLane } from "../../lanes/desk"

/** The book tells times to a tenth of a second. */
const TELLS_APART_S = 0.06

/** What may be said of the run that just ended, and what one more would do. */
export function LaneSaid({ slug, lane }: { slug: string; lane: NumberedLane }) {
  const stopped = lane.phase === "stopped"
  const { data } = useQuery(saidQuery(slug, lane.key, stopped))
  // The book may still hold the run as it was before the last press.
  const known = data?.value ?? lane.elapsedS ?? 0
  if (!stopped || !data || Math.abs(known - (lane.elapsedS ?? known)) > TELLS_APART_S) return null
  return (
    <p className="mt-1">
      <strong>{data.says}</strong> {data.next && <span className="text-mute">{data.next}</span>}
    </p>
  )
}

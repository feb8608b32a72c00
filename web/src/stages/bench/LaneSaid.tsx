import { useQuery } from "@tanstack/react-query"
import { useEffect } from "react"
import { saidQuery } from "../../api/bench"
import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import { Doubt } from "../../parts/Doubt"

/** The book tells times to a tenth of a second. */
const TELLS_APART_S = 0.06

/** What may be said of the run that just ended, and what one more would do. */
export function LaneSaid({
  slug,
  bench,
  lane,
}: {
  slug: string
  bench: Bench
  lane: NumberedLane
}) {
  const stopped = lane.phase === "stopped"
  const { data } = useQuery(saidQuery(slug, lane.key, stopped))
  const doubted = stopped && !!data?.doubt
  // A question stays where it is until it is answered.
  useEffect(
    () => (doubted ? bench.hold(lane.number, "doubt") : undefined),
    [bench, lane.number, doubted],
  )
  // The book may still hold the run as it was before the last press.
  const known = data?.value ?? lane.elapsedS ?? 0
  if (!stopped || !data || Math.abs(known - (lane.elapsedS ?? known)) > TELLS_APART_S) return null
  return (
    <div className="mt-1">
      <strong className={data.doubt ? "text-accent" : ""}>{data.says}</strong>{" "}
      {data.next && <span className="text-mute">{data.next}</span>}
      {data.doubt && data.run_id && (
        <Doubt
          slug={slug}
          run={{ id: data.run_id, version: data.version ?? 1 }}
          slip="false start"
        />
      )}
    </div>
  )
}

import { useQueries } from "@tanstack/react-query"
import { paceQuery } from "../../api/queries"
import type { NumberedLane } from "../../lanes/desk"
import { progress } from "../../lanes/marks"

/** End of the axis that lanes of one task share: the best so far and every likely finish fit. */
export function useAxisEnd(
  slug: string,
  lanes: { seconds: number; lane: NumberedLane }[],
  best: number | undefined,
): number {
  // The same question as each lane asks for itself, so it is asked once.
  const paces = useQueries({
    queries: lanes.map(({ lane }) => paceQuery(slug, lane.taskId, progress(lane.marks))),
  })
  const ends = lanes.map(({ seconds, lane }, place) => {
    const asked = lane.phase === "running" && progress(lane.marks).length > 0
    return Math.max(seconds, (asked && paces[place]?.data?.projected_s) || 0)
  })
  return Math.max(1.05 * Math.max(0, ...ends), 1.25 * (best ?? 0), 1)
}

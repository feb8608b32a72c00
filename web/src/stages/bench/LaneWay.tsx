import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { paceQuery } from "../../api/queries"
import type { NumberedLane } from "../../lanes/desk"
import { newest, progress } from "../../lanes/marks"
import { markOf } from "../../parts/SetupMark"
import { clock } from "../../theme/format"

/** How far the clock is on the way to the best so far, and what the marks say of its finish. */
export function LaneWay({
  slug,
  lane,
  seconds,
  best,
  mark,
}: {
  slug: string
  lane: NumberedLane
  seconds: number
  best: Schemas["BestSoFar"] | undefined
  mark: number
}) {
  const pace = useQuery(paceQuery(slug, lane.taskId, progress(lane.marks))).data
  const projected = lane.phase === "running" ? (pace?.projected_s ?? null) : null
  const end = Math.max(1.25 * (best?.value ?? 0), 1.05 * seconds, 1.05 * (projected ?? 0), 1)
  const late = best !== undefined && seconds > best.value + 0.05
  const part = (value: number) => `${(100 * value) / end}%`
  return (
    <div>
      {(best || lane.marks.length > 0) && (
        <svg className="block w-full overflow-visible" height="40" aria-hidden="true">
          <line x1="0" x2="100%" y1="20" y2="20" stroke="var(--color-base-300)" />
          <rect x="0" y="13" height="14" width={part(seconds)} fill={markOf(mark).color} />
          {lane.marks.map(({ elapsed_s }) => (
            <line
              key={elapsed_s}
              x1={part(elapsed_s)}
              x2={part(elapsed_s)}
              y1="8"
              y2="32"
              stroke="var(--color-base-content)"
            />
          ))}
          {best && (
            <line
              x1={part(best.value)}
              x2={part(best.value)}
              y1="2"
              y2="38"
              stroke="var(--color-accent)"
              strokeWidth="2"
              strokeDasharray="3 3"
            />
          )}
          {projected !== null && (
            <path
              d="M-5 2H5L0 10Z"
              fill="var(--color-base-content)"
              style={{ transform: `translateX(${part(projected)})` }}
            />
          )}
        </svg>
      )}
      <p className="text-mute">
        {best ? (
          <>
            best so far{" "}
            <span className="figure font-bold text-base-content">
              {clock(best.value, best.resolution ?? 1)}
            </span>{" "}
            {best.label}
          </>
        ) : (
          "The first run of this task: no best so far."
        )}
        {late && <span className="text-accent"> · past it by {clock(seconds - best.value)}</span>}
      </p>
      {projected !== null && pace && (
        <p role="status">
          at {Math.round(100 * (newest(lane.marks, "fraction") ?? 0))} %, likely done at{" "}
          <span className="figure font-bold">{clock(projected)}</span>
          {pace.gap_s !== null && Math.abs(pace.gap_s) >= 0.5 && (
            <>
              , {clock(Math.abs(pace.gap_s))} {pace.gap_s > 0 ? "behind" : "ahead of"} the best so
              far
            </>
          )}
          {pace.slowed && <span className="text-accent"> · it is slowing down</span>}
        </p>
      )}
    </div>
  )
}

import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { paceQuery } from "../../api/queries"
import type { NumberedLane } from "../../lanes/desk"
import { newest, progress, standing } from "../../lanes/marks"
import { markOf } from "../../parts/SetupMark"
import { clock, hour } from "../../theme/format"

/** How far the clock is on the way to the best so far, and what the marks say of its finish. */
export function LaneWay({
  slug,
  lane,
  seconds,
  end,
  best,
  usual,
  mark,
  who,
  dense,
}: {
  slug: string
  lane: NumberedLane
  seconds: number
  /** End of the time axis, in seconds: the same for all lanes of one task. */
  end: number
  best: Schemas["BestSoFar"] | undefined
  /** What the setup usually takes, in seconds. */
  usual: number | undefined
  mark: number
  /** Who times it, where no hand does. */
  who: string | null
  /** One of many lanes: one line of words, a thin bar. */
  dense: boolean
}) {
  const known = progress(lane.marks)
  const asked = useQuery(paceQuery(slug, lane.taskId, known)).data
  const pace = known.length > 0 ? asked : undefined
  const likely = lane.phase === "running" ? (pace?.projected_s ?? null) : null
  // A finish that is past already is no longer likely.
  const projected = likely !== null && likely > seconds ? likely : null
  const late = best !== undefined && seconds > best.value + 0.05
  // What is on the clock may be the fastest itself by now: then it is not behind anybody.
  const own =
    best !== undefined && lane.phase === "stopped" && best.setup_id === lane.setupId && !late
  return (
    <div className={dense ? "text-13 leading-4.5 max-sm:truncate [&>p]:inline [&>p+p]:ml-2" : ""}>
      {(best || standing(lane.marks).length > 0) && (
        <Track
          lane={lane}
          seconds={seconds}
          end={end}
          best={best}
          mark={mark}
          projected={projected}
          height={dense ? 14 : 32}
        />
      )}
      <p className="text-mute">
        {own ? (
          "The fastest so far."
        ) : best ? (
          <>
            Fastest so far: {best.label},{" "}
            <span className="figure font-bold text-base-content">
              {clock(best.value, best.resolution ?? 1)}
            </span>
            .
          </>
        ) : (
          "The first run of this task."
        )}
        {/* Where a finish is likely, it says by how much: two gaps would contradict each other. */}
        {late && projected === null && (
          <>
            {" "}
            <span className="figure">{clock(seconds - best.value)}</span> behind it.
          </>
        )}
        {who && <span className={lane.timedBy === "rig" ? "text-accent" : ""}> {who}.</span>}
      </p>
      {projected === null && usual !== undefined && lane.phase !== "stopped" && (
        <Usual usual={usual} seconds={seconds} running={lane.phase === "running"} />
      )}
      {projected !== null && pace && (
        <p>
          at {Math.round(100 * (newest(lane.marks, "fraction") ?? 0))} %, likely done at{" "}
          <span className="figure font-bold">{clock(projected)}</span> (
          {timeOfDay(projected - seconds)})
          {pace.gap_s !== null && Math.abs(pace.gap_s) >= 0.5 && (
            <>
              , {clock(Math.abs(pace.gap_s))} {pace.gap_s > 0 ? "behind" : "ahead of"} the fastest
            </>
          )}
          {pace.slowed && <span className="text-accent"> · it is slowing down</span>}
        </p>
      )}
    </div>
  )
}

/** How long it will take by the setup's earlier runs, and when it is done. */
function Usual({ usual, seconds, running }: { usual: number; seconds: number; running: boolean }) {
  if (running && seconds > usual) {
    return (
      <p className="text-mute">
        usually about <span className="figure">{clock(usual)}</span>:{" "}
        <span className="figure">{clock(seconds - usual)}</span> over
      </p>
    )
  }
  return (
    <p className="text-mute">
      usually about <span className="figure">{clock(usual)}</span>
      {running ? ", done " : "; started now, done "}
      <span className="figure font-bold text-base-content">{timeOfDay(usual - seconds)}</span>
    </p>
  )
}

/** The time of day in so many seconds, in the reader's way. */
function timeOfDay(seconds: number): string {
  return hour(new Date(Date.now() + 1000 * seconds))
}

/** The clock as a bar, with its marks, the best so far and the likely finish. */
function Track({
  lane,
  seconds,
  end,
  best,
  mark,
  projected,
  height,
}: {
  lane: NumberedLane
  seconds: number
  end: number
  best: Schemas["BestSoFar"] | undefined
  mark: number
  projected: number | null
  /** In pixels. */
  height: number
}) {
  const part = (value: number) => `${Math.min(100, (100 * value) / end)}%`
  return (
    <svg className="block w-full overflow-visible" height={height} aria-hidden="true">
      <line x1="0" x2="100%" y1={height / 2} y2={height / 2} stroke="var(--color-base-300)" />
      <rect
        x="0"
        y={height * 0.31}
        height={height * 0.38}
        width={part(seconds)}
        fill={markOf(mark).color}
      />
      {standing(lane.marks).map(({ elapsed_s }) => (
        <line
          key={elapsed_s}
          x1={part(elapsed_s)}
          x2={part(elapsed_s)}
          y1={height * 0.16}
          y2={height * 0.84}
          stroke="var(--color-base-content)"
        />
      ))}
      {best && (
        <line
          x1={part(best.value)}
          x2={part(best.value)}
          y1="0"
          y2={height}
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
  )
}

import { useQuery } from "@tanstack/react-query"
import { useEffect, useState } from "react"
import type { Schemas } from "../../api/client"
import { paceQuery } from "../../api/queries"
import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import { KeyCap } from "../../parts/KeyCap"
import { markOf, SetupMark } from "../../parts/SetupMark"
import { clock } from "../../theme/format"

const TICK_MS = 100

/** One lane: key cap, setup, big clock, and the way to the best so far. */
export function LaneView({
  slug,
  bench,
  lane,
  setup,
  task,
  next,
  selected,
  undoable,
  best,
  onAsk,
  onFalseStart,
}: {
  slug: string
  bench: Bench
  lane: NumberedLane
  setup: Schemas["Setup"]
  /** Name of its task, where the stage does not say it already. */
  task: string | null
  /** Name of the task that follows, if any. */
  next: string | null
  /** Letters act on this lane. */
  selected: boolean
  /** The press that can be taken back is this lane's. */
  undoable: boolean
  best: Schemas["BestSoFar"] | undefined
  onAsk: (kind: "void" | "failed" | "mark") => void
  onFalseStart: () => void
}) {
  const at = useNow(lane)
  const seconds = lanes.elapsed(lane, at)
  const { number, phase } = lane
  const small = task !== null
  // Letters act on the chosen lane only, so only there they are shown.
  const letter = (key: string) => (selected || !small ? key : null)
  return (
    <section
      aria-label={`Lane ${number}, ${setup.label}`}
      className={`border-b border-line py-4 first-of-type:border-t ${selected ? "border-l-4 border-l-accent pl-3" : small ? "pl-4" : ""}`}
    >
      <div className="flex flex-wrap items-center gap-x-6 gap-y-3">
        <button
          type="button"
          aria-label={phase === "running" ? `Stop lane ${number}` : `Lane ${number}`}
          onClick={() => (phase === "running" ? bench.stop(number) : bench.select(number))}
          className="figure grid h-14 w-14 shrink-0 place-items-center rounded-md border-2 border-b-4 border-base-content bg-page text-[24px]"
        >
          {number}
        </button>
        <div className={`min-w-0 ${small ? "w-56" : ""}`}>
          <p className="flex items-center gap-2 font-head text-[17px] font-bold">
            <SetupMark index={setup.mark} />
            <span className="min-w-0 break-words">{setup.label}</span>
          </p>
          {task && <p className="text-[13px] break-words text-mute">{task}</p>}
          <p
            role="timer"
            aria-label={`${phase}, ${clock(seconds)}`}
            className={`figure font-bold ${small ? "text-[56px] leading-[60px]" : "text-[64px] leading-[72px] sm:text-[88px] sm:leading-[96px]"} ${phase === "armed" ? "text-mute" : ""}`}
          >
            {clock(seconds, lanes.RESOLUTION_S)}
          </p>
        </div>
        <div className="min-w-48 flex-1">
          <Way slug={slug} lane={lane} seconds={seconds} best={best} mark={setup.mark} />
          {next && <p className="text-[13px] text-mute">then {next}</p>}
        </div>
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        {phase === "armed" && (
          <Press
            label="Start"
            keyName={small ? `⇧ ${number}` : "Space"}
            onPress={() => bench.start(number)}
            primary
          />
        )}
        {phase === "running" && (
          <Press label="Stop" keyName={`${number}`} onPress={() => bench.stop(number)} primary />
        )}
        {phase === "stopped" && (
          <Press
            label={next ? "Ready for the next task" : "Ready for the next run"}
            keyName="Space"
            onPress={() => bench.rearm(number)}
            primary
          />
        )}
        {undoable && lanes.canUndo(lane, at) && (
          <Press
            label={`Undo the ${phase === "stopped" ? "stop" : "start"} (${Math.ceil((lanes.UNDO_MS - (at - lane.pressedAt)) / 1000)} s)`}
            keyName="U"
            onPress={() => bench.undo()}
          />
        )}
        {phase === "running" && (
          <>
            <Press label="Mark" keyName={letter("P")} onPress={() => onAsk("mark")} />
            <Press label="False start" keyName={letter("X")} onPress={onFalseStart} />
          </>
        )}
        {phase !== "armed" && (
          <Press label="Void" keyName={letter("V")} onPress={() => onAsk("void")} />
        )}
        {phase === "running" && (
          <Press label="Failed" keyName={letter("F")} onPress={() => onAsk("failed")} />
        )}
        {phase !== "running" && (
          <button type="button" className="btn btn-ghost" onClick={() => bench.remove(number)}>
            {small ? "Take the lane away" : "Another setup or task"}
          </button>
        )}
      </div>
    </section>
  )
}

function Press({
  label,
  keyName,
  onPress,
  primary = false,
}: {
  label: string
  keyName: string | null
  onPress: () => void
  primary?: boolean
}) {
  return (
    <button
      type="button"
      className={`btn ${primary ? "btn-primary max-sm:h-20 max-sm:w-full max-sm:text-xl" : ""}`}
      onClick={(event) => {
        // Keys belong to the lane again, not to the button just pressed.
        event.currentTarget.blur()
        onPress()
      }}
    >
      {label}{" "}
      {keyName && (
        <span className="text-base-content max-sm:hidden">
          <KeyCap>{keyName}</KeyCap>
        </span>
      )}
    </button>
  )
}

/** How far the clock is on the way to the best so far, and what the marks say of its finish. */
function Way({
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
  const pace = useQuery(paceQuery(slug, lane.taskId, lane.marks)).data
  const projected = lane.phase === "running" ? (pace?.projected_s ?? null) : null
  const end = Math.max(1.25 * (best?.value ?? 0), 1.05 * seconds, 1.05 * (projected ?? 0), 1)
  const late = best !== undefined && seconds > best.value
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
          at {Math.round(100 * (lane.marks.at(-1)?.fraction ?? 0))} %, likely done at{" "}
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

/** The moment to draw, ten times a second while the clock runs or a press can be undone. */
function useNow(lane: lanes.Lane): number {
  const [at, setAt] = useState(lanes.now)
  useEffect(() => {
    setAt(lanes.now())
    const timer = setInterval(() => setAt(lanes.now()), TICK_MS)
    if (lane.phase !== "running" && !lanes.canUndo(lane, lanes.now())) clearInterval(timer)
    return () => clearInterval(timer)
  }, [lane])
  return at
}

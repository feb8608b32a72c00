import { useEffect, useState } from "react"
import type { Schemas } from "../../api/client"
import { KeyCap } from "../../parts/KeyCap"
import { markOf, SetupMark } from "../../parts/SetupMark"
import { clock } from "../../theme/format"
import * as lanes from "./lane"

const TICK_MS = 100

/** One lane: key cap, setup, big clock, and the way to the best so far. */
export function LaneView({
  lane,
  setup,
  place,
  best,
  onStart,
  onStop,
  onUndo,
  onRearm,
  onEnd,
  onDisarm,
}: {
  lane: lanes.Lane
  setup: Schemas["Setup"]
  /** Place of the setup in the line-up, for its marker. */
  place: number
  best: Schemas["BestSoFar"] | undefined
  onStart: () => void
  onStop: () => void
  onUndo: () => void
  onRearm: () => void
  onEnd: (kind: "void" | "failed") => void
  onDisarm: () => void
}) {
  const at = useNow(lane)
  const seconds = lanes.elapsed(lane, at)
  return (
    <section aria-label={`Lane 1, ${setup.label}`} className="border-y border-line py-5">
      <div className="flex flex-wrap items-center gap-x-8 gap-y-4">
        <button
          type="button"
          aria-label={lane.phase === "running" ? "Stop lane 1" : "Lane 1"}
          disabled={lane.phase !== "running"}
          onClick={onStop}
          className="figure grid h-14 w-14 shrink-0 place-items-center rounded-md border-2 border-b-4 border-base-content bg-page text-[24px]"
        >
          1
        </button>
        <div className="min-w-0">
          <p className="flex items-center gap-2 font-head text-[17px] font-bold">
            <SetupMark index={place} />
            <span className="min-w-0 break-words">{setup.label}</span>
          </p>
          <p
            role="timer"
            aria-label={`${lane.phase}, ${clock(seconds)}`}
            className={`figure text-[64px] leading-[72px] font-bold sm:text-[88px] sm:leading-[96px] ${lane.phase === "armed" ? "text-mute" : ""}`}
          >
            {clock(seconds, lanes.RESOLUTION_S)}
          </p>
        </div>
        <div className="min-w-48 flex-1">
          <Way seconds={seconds} best={best} place={place} />
        </div>
      </div>
      <div className="mt-4 flex flex-wrap items-center gap-2">
        {lane.phase === "armed" && (
          <Press label="Start" keyName="Space" onPress={onStart} primary />
        )}
        {lane.phase === "running" && <Press label="Stop" keyName="1" onPress={onStop} primary />}
        {lane.phase === "stopped" && (
          <Press label="Ready for the next run" keyName="Space" onPress={onRearm} primary />
        )}
        {lanes.canUndo(lane, at) && (
          <Press
            label={`Undo the ${lane.phase === "stopped" ? "stop" : "start"} (${Math.ceil((lanes.UNDO_MS - (at - lane.pressedAt)) / 1000)} s)`}
            keyName="U"
            onPress={onUndo}
          />
        )}
        {lane.phase !== "armed" && <Press label="Void" keyName="V" onPress={() => onEnd("void")} />}
        {lane.phase === "running" && (
          <Press label="Failed" keyName="F" onPress={() => onEnd("failed")} />
        )}
        {lane.phase !== "running" && (
          <button type="button" className="btn btn-ghost" onClick={onDisarm}>
            Another setup or task
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
  keyName: string
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
      <span className="text-base-content max-sm:hidden">
        <KeyCap>{keyName}</KeyCap>
      </span>
    </button>
  )
}

/** How far the clock is on the way to the best so far. */
function Way({
  seconds,
  best,
  place,
}: {
  seconds: number
  best: Schemas["BestSoFar"] | undefined
  place: number
}) {
  if (!best) return <p className="text-mute">The first run of this task: no best so far.</p>
  const end = Math.max(1.25 * best.value, 1.05 * seconds)
  const late = seconds > best.value
  return (
    <div>
      <svg className="block w-full overflow-visible" height="40" aria-hidden="true">
        <line x1="0" x2="100%" y1="20" y2="20" stroke="var(--color-base-300)" />
        <rect
          x="0"
          y="13"
          height="14"
          width={`${(100 * seconds) / end}%`}
          fill={markOf(place).color}
        />
        <line
          x1={`${(100 * best.value) / end}%`}
          x2={`${(100 * best.value) / end}%`}
          y1="2"
          y2="38"
          stroke="var(--color-accent)"
          strokeWidth="2"
          strokeDasharray="3 3"
        />
      </svg>
      <p className="text-mute">
        best so far{" "}
        <span className="figure font-bold text-base-content">
          {clock(best.value, best.resolution ?? 1)}
        </span>{" "}
        {best.label}
        {late && <span className="text-accent"> · past it by {clock(seconds - best.value)}</span>}
      </p>
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

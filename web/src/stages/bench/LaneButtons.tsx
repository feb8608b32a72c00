import { useState } from "react"
import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import type { Watch } from "../../lanes/watch/watches"
import { NextPress, RunningPresses, WatchPress } from "./LanePresses"
import { Press } from "./Press"

/** What can be pressed on a lane now, each with its key. */
export function LaneButtons({
  bench,
  lane,
  at,
  small,
  dense,
  lettered,
  watch,
  undoable,
  redoable,
  next,
  onAsk,
  onFalseStart,
}: {
  bench: Bench
  lane: NumberedLane
  /** The moment that is drawn. */
  at: number
  small: boolean
  /** One of many lanes. */
  dense: boolean
  /** Letters act on this lane, so they are shown. */
  lettered: boolean
  /** Of an export that is watched here. */
  watch: Watch | undefined
  undoable: boolean
  /** The press that was taken back last is this lane's. */
  redoable: boolean
  next: string | null
  onAsk: (kind: "void" | "failed" | "mark", at: number) => void
  onFalseStart: (at: number) => void
}) {
  const { number, phase } = lane
  const letter = (key: string) => (lettered ? key : null)
  const [more, setMore] = useState(false)
  const back = Math.ceil((lanes.UNDO_MS - (at - lane.pressedAt)) / 1000)
  return (
    <div className={`flex flex-wrap items-center gap-2 ${dense ? "mt-1" : "mt-2"}`}>
      <NextPress
        bench={bench}
        lane={lane}
        small={small}
        dense={dense}
        next={next}
        looking={watch?.armed === false}
      />
      {watch?.armed && <WatchPress bench={bench} lane={lane} small={small} dense={dense} />}
      {undoable && lanes.canUndo(lane, at) && (
        <Press
          small={small}
          dense={dense}
          label={`Undo the ${lanes.pressOf(lane)}${small ? ` of ${number}` : ""} (${back} s)`}
          keyName="U"
          onPress={() => bench.undo()}
        />
      )}
      {redoable && lanes.canRedo(lane, at) && (
        <Press
          small={small}
          dense={dense}
          label={`Put the ${lane.redo?.press}${small ? ` of ${number}` : ""} back`}
          keyName="R"
          onPress={() => bench.redo()}
        />
      )}
      {dense && !more && (
        <button
          type="button"
          aria-label={`More for timer ${number}`}
          className="btn btn-ghost h-11 sm:hidden"
          onClick={() => setMore(true)}
        >
          More
        </button>
      )}
      <div className={`flex flex-wrap items-center gap-2 ${dense && !more ? "max-sm:hidden" : ""}`}>
        {phase === "running" && (
          <RunningPresses
            bench={bench}
            lane={lane}
            small={small}
            dense={dense}
            letter={letter}
            onAsk={onAsk}
            onFalseStart={onFalseStart}
          />
        )}
        {phase !== "armed" && (
          <Press
            small={small}
            dense={dense}
            label="Don't count it"
            keyName={letter("V")}
            onPress={(at) => onAsk("void", at)}
          />
        )}
        {phase === "running" && (
          <Press
            small={small}
            dense={dense}
            label="Failed"
            keyName={letter("F")}
            onPress={(at) => onAsk("failed", at)}
          />
        )}
        {phase !== "running" && (
          <button
            type="button"
            className={`btn btn-ghost ${dense ? "sm:btn-xs" : small ? "sm:btn-sm" : ""}`}
            onClick={() => bench.remove(number)}
          >
            {small ? "Remove timer" : "Change machine or task"}
          </button>
        )}
      </div>
    </div>
  )
}

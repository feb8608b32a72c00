import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import { Press } from "./Press"

/** What can be pressed on a lane now, each with its key. */
export function LaneButtons({
  bench,
  lane,
  at,
  small,
  lettered,
  undoable,
  next,
  onAsk,
  onFalseStart,
}: {
  bench: Bench
  lane: NumberedLane
  /** The moment that is drawn. */
  at: number
  small: boolean
  /** Letters act on this lane, so they are shown. */
  lettered: boolean
  undoable: boolean
  next: string | null
  onAsk: (kind: "void" | "failed" | "mark", at: number) => void
  onFalseStart: (at: number) => void
}) {
  const { number, phase } = lane
  const letter = (key: string) => (lettered ? key : null)
  const byHand = lane.timedBy === "hand"
  const back = Math.ceil((lanes.UNDO_MS - (at - lane.pressedAt)) / 1000)
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <NextPress bench={bench} lane={lane} small={small} next={next} />
      {undoable && lanes.canUndo(lane, at) && (
        <Press
          small={small}
          label={`Undo ${phase === "stopped" ? "stop" : "start"} (${back} s)`}
          keyName="U"
          onPress={() => bench.undo()}
        />
      )}
      {phase === "running" && (
        <>
          <Press
            small={small}
            label="Mark"
            keyName={letter("P")}
            onPress={(at) => onAsk("mark", at)}
          />
          {byHand && (
            <Press small={small} label="False start" keyName={letter("X")} onPress={onFalseStart} />
          )}
        </>
      )}
      {phase !== "armed" && (
        <Press
          small={small}
          label="Don't count it"
          keyName={letter("V")}
          onPress={(at) => onAsk("void", at)}
        />
      )}
      {phase === "running" && (
        <Press
          small={small}
          label="Failed"
          keyName={letter("F")}
          onPress={(at) => onAsk("failed", at)}
        />
      )}
      {phase !== "running" && (
        <button
          type="button"
          className={`btn btn-ghost ${small ? "sm:btn-sm" : ""}`}
          onClick={() => bench.remove(number)}
        >
          {small ? "Remove timer" : "Change machine or task"}
        </button>
      )}
    </div>
  )
}

/** The press that the lane waits for. */
function NextPress({
  bench,
  lane,
  small,
  next,
}: {
  bench: Bench
  lane: NumberedLane
  small: boolean
  next: string | null
}) {
  const { number, phase } = lane
  return (
    <>
      {phase === "armed" && lane.timedBy !== "watcher" && (
        <Press
          small={small}
          label="Start"
          keyName={small ? `${number}` : "Space"}
          onPress={(at) => bench.start(number, at)}
          primary
        />
      )}
      {phase === "armed" && lane.timedBy === "watcher" && (
        <span className="text-mute">waits for the first byte of its export</span>
      )}
      {phase === "running" && lane.timedBy === "hand" && (
        <Press
          small={small}
          label="Stop"
          keyName={`${number}`}
          onPress={(at) => bench.stop(number, at)}
          primary
        />
      )}
      {phase === "stopped" && (
        <Press
          small={small}
          label={next ? "Next task" : "Next run"}
          keyName="Space"
          onPress={() => bench.rearm(number)}
          primary
        />
      )}
    </>
  )
}

import type { Bench } from "../../lanes/bench"
import { lastMark, type NumberedLane } from "../../lanes/desk"
import { markWords } from "../../lanes/marks"
import { Press } from "./Press"

/** What can be told of a lane while it runs. */
export function RunningPresses({
  bench,
  lane,
  small,
  dense,
  letter,
  onAsk,
  onFalseStart,
}: {
  bench: Bench
  lane: NumberedLane
  small: boolean
  dense: boolean
  letter: (key: string) => string | null
  onAsk: (kind: "void" | "failed" | "mark", at: number) => void
  onFalseStart: (at: number) => void
}) {
  const last = lastMark(lane)
  return (
    <>
      <Press
        small={small}
        dense={dense}
        label="Mark"
        keyName={letter("P")}
        onPress={(at) => onAsk("mark", at)}
      />
      {last && (
        <Press
          small={small}
          dense={dense}
          label={`Take back ${markWords(last)}`}
          keyName={null}
          onPress={() => bench.takeBack(lane.number)}
        />
      )}
      {lane.timedBy === "hand" && (
        <Press
          small={small}
          dense={dense}
          label="False start"
          keyName={letter("X")}
          onPress={onFalseStart}
        />
      )}
    </>
  )
}

/** The press that the lane waits for. */
export function NextPress({
  bench,
  lane,
  small,
  dense,
  next,
  looking,
}: {
  bench: Bench
  lane: NumberedLane
  small: boolean
  dense: boolean
  next: string | null
  /** What lies in its folder is not known yet. */
  looking: boolean
}) {
  const { number, phase } = lane
  return (
    <>
      {phase === "armed" && lane.timedBy !== "watcher" && (
        <Press
          small={small}
          dense={dense}
          label="Start"
          keyName={small ? `${number}` : "Space"}
          onPress={(at) => bench.start(number, at)}
          primary
        />
      )}
      {phase === "armed" && lane.timedBy === "watcher" && (
        <span className="text-mute">
          {looking ? "looks at what is in the folder" : "waits for the first byte of its export"}
        </span>
      )}
      {phase === "running" && lane.timedBy === "hand" && (
        <Press
          small={small}
          dense={dense}
          label="Stop"
          keyName={`${number}`}
          onPress={(at) => bench.stop(number, at)}
          primary
        />
      )}
      {phase === "stopped" && (
        <Press
          small={small}
          dense={dense}
          label={next ? "Next task" : "Next run"}
          keyName="Space"
          onPress={() => bench.rearm(number)}
          primary
        />
      )}
      {phase === "stopped" && next && !small && lane.timedBy === "hand" && (
        <span className="text-13 text-mute">or wait: it is readied by itself</span>
      )}
    </>
  )
}

/** What a person may tell of an export that is watched here: that it begins now, that it is done. */
export function WatchPress({
  bench,
  lane,
  small,
  dense,
}: {
  bench: Bench
  lane: NumberedLane
  small: boolean
  dense: boolean
}) {
  if (lane.phase === "armed") {
    return (
      <Press
        small={small}
        dense={dense}
        label="Start it by a press"
        keyName={`${lane.number}`}
        onPress={(at) => bench.start(lane.number, at)}
      />
    )
  }
  if (lane.phase !== "running") return null
  return (
    <Press
      small={small}
      dense={dense}
      label="The app says it is done"
      keyName={null}
      onPress={() => bench.watchedIsWhole(lane.number)}
    />
  )
}

import type { ReactNode } from "react"
import type { Schemas } from "../../api/client"
import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import type { Watch } from "../../lanes/watch/watches"
import { useReading } from "../../parts/Reading"
import { SetupMark } from "../../parts/SetupMark"
import { usePress } from "../../parts/usePress"
import { clock, compact } from "../../theme/format"
import { useAxisEnd } from "./axis"
import { Checklist } from "./Checklist"
import { CorrectPress } from "./CorrectPress"
import { LaneButtons } from "./LaneButtons"
import { LaneReadings } from "./LaneReadings"
import { LaneSaid } from "./LaneSaid"
import { LaneWatch } from "./LaneWatch"
import { LaneWay } from "./LaneWay"
import { useNow } from "./useNow"

type LaneProps = {
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
  /** The press that was taken back last, and can be put back, is this lane's. */
  redoable: boolean
  /** One of many: low, so that eight fit a screen. */
  dense: boolean
  /** What is asked for this lane just now. */
  form: ReactNode
  best: Schemas["BestSoFar"] | undefined
  /** What the setup usually takes, in seconds. */
  usual: number | undefined
  /** What is seen of its export, where this page watches it. */
  watch?: Watch | undefined
  /** All lanes of this task, for one time axis. */
  sharing: NumberedLane[]
  onAsk: (kind: "void" | "failed" | "mark", at: number) => void
  onFalseStart: (at: number) => void
}

/** One lane: key cap, setup, big clock, and the way to the best so far. */
export function LaneView(props: LaneProps) {
  const { slug, bench, lane, setup, task, next, selected, undoable, best, sharing } = props
  const at = useNow(lane)
  const seconds = lanes.elapsed(lane, at)
  const small = task !== null
  const { dense } = props
  const end = useAxisEnd(
    slug,
    sharing.map((each) => ({ lane: each, seconds: lanes.elapsed(each, at) })),
    best?.value,
  )
  const reading = useReading()
  const buttons = (
    <LaneButtons
      bench={bench}
      lane={lane}
      at={at}
      small={small}
      dense={dense}
      lettered={selected || !small}
      watch={props.watch}
      undoable={undoable}
      redoable={props.redoable}
      next={next}
      onAsk={props.onAsk}
      onFalseStart={props.onFalseStart}
    />
  )
  return (
    <section
      aria-label={`Timer ${lane.number}, ${setup.label}`}
      data-timer={lane.number}
      tabIndex={-1}
      className={`border-b border-line first-of-type:border-t ${dense ? "py-1.5" : "py-3"} ${selected ? "border-l-4 border-l-accent pl-3" : small ? "pl-4" : ""}`}
    >
      <div
        className={`flex flex-wrap items-center ${dense ? "gap-x-4 gap-y-1" : "gap-x-6 gap-y-3"}`}
      >
        <LaneKey bench={bench} lane={lane} dense={dense} />
        <LaneClock lane={lane} setup={setup} task={task} seconds={seconds} dense={dense} />
        <div className={`flex-1 ${dense ? "min-w-full sm:min-w-48" : "min-w-48"}`}>
          <LaneWay
            slug={slug}
            lane={lane}
            seconds={seconds}
            end={end}
            best={best}
            usual={props.usual}
            mark={setup.mark}
            who={timedBy(lane)}
            dense={dense}
          />
          <LaneReadings lane={lane} />
          {props.watch && <LaneWatch bench={bench} lane={lane} watch={props.watch} dense={dense} />}
          {next && !dense && <p className="text-13 text-mute">then {next}</p>}
          <LaneSaid slug={slug} bench={bench} lane={lane} />
          {small && !reading && <div className="max-sm:hidden">{buttons}</div>}
        </div>
      </div>
      {!reading && (small ? <div className="sm:hidden">{buttons}</div> : buttons)}
      {props.form}
      {lane.phase === "armed" && !reading && !dense && <Checklist bench={bench} lane={lane} />}
      {lane.phase === "stopped" && lane.timedBy === "hand" && !reading && !dense && (
        <CorrectPress key={lane.key} bench={bench} lane={lane} />
      )}
    </section>
  )
}

/** The lane's number as a key: pressed, it stops a running lane, else letters act on it. */
function LaneKey({ bench, lane, dense }: { bench: Bench; lane: NumberedLane; dense: boolean }) {
  const { number, phase } = lane
  const reading = useReading()
  const stops = phase === "running" && lane.timedBy === "hand"
  const press = usePress((at) => (stops ? bench.stop(number, at) : bench.select(number)))
  return (
    <button
      type="button"
      aria-label={stops ? `Stop timer ${number}` : `Timer ${number}`}
      disabled={reading}
      {...press}
      className={`figure grid shrink-0 place-items-center rounded-md border-2 border-b-4 border-base-content bg-page ${dense ? "h-11 w-11 text-20" : "h-14 w-14 text-24"}`}
    >
      {number}
    </button>
  )
}

/** Who runs what, and for how long by now. */
function LaneClock({
  lane,
  setup,
  task,
  seconds,
  dense,
}: {
  lane: NumberedLane
  setup: Schemas["Setup"]
  /** Name of its task, where the stage does not say it already. */
  task: string | null
  seconds: number
  dense: boolean
}) {
  const small = task !== null
  const size = dense
    ? "text-34 leading-11"
    : small
      ? "text-56 leading-15"
      : "text-64 leading-18 sm:text-88 sm:leading-24"
  return (
    <div
      className={`min-w-0 ${dense ? "flex flex-1 items-center gap-3 sm:w-80 sm:flex-none" : small ? "w-56" : ""}`}
    >
      <div className={dense ? "min-w-0 flex-1" : ""}>
        <p
          className={`flex items-center gap-2 font-head font-bold ${dense ? "text-15 leading-5" : "text-17"}`}
        >
          <SetupMark index={setup.mark} />
          <span className="min-w-0 break-words">{setup.label}</span>
        </p>
        {task && (
          <p
            className={`text-13 text-mute ${dense ? "truncate leading-4.5" : "break-words"}`}
            title={dense ? task : undefined}
          >
            {task}
          </p>
        )}
      </div>
      <p
        role="timer"
        aria-label={`${lane.phase}, ${clock(seconds)}`}
        className={`figure font-bold ${size} ${lane.phase === "armed" ? "text-mute" : ""}`}
      >
        {clock(seconds, lanes.RESOLUTION_S)}
      </p>
    </div>
  )
}

/** Says who times a lane that no hand stops, or that another device began it. */
function timedBy(lane: NumberedLane): string | null {
  if (lane.timedBy === "rig") {
    return `Simulated, ${compact(lane.factor)}× speed`
  }
  if (lane.timedBy === "watcher") return "Timed by its file"
  return lane.startedBy !== "" && lane.phase !== "armed" ? "Started on another device" : null
}

import { useQuery } from "@tanstack/react-query"
import { Link, useParams, useSearch } from "@tanstack/react-router"
import { useEffect, useRef, useState } from "react"
import type { Schemas } from "../../api/client"
import { benchQuery, lineupQuery, tasksQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { StagePage } from "../../parts/StagePage"
import { singleKeysOn, useKeys } from "../../parts/useKeys"
import { ArmForm } from "./ArmForm"
import { EarlierRuns } from "./EarlierRuns"
import { LaneResult } from "./LaneResult"
import { LaneView } from "./LaneView"
import * as lanes from "./lane"
import { type Ending, ReasonForm } from "./ReasonForm"
import { useLane } from "./useLane"

/** The bench: one lane that is armed, started and stopped by key or tap. */
export function Bench() {
  const { slug } = useParams({ from: "/s/$slug/bench" })
  const { focus } = useSearch({ from: "/s/$slug/bench" })
  const lineup = useQuery(lineupQuery(slug)).data
  const tasks = useQuery(tasksQuery(slug)).data
  const bench = useQuery(benchQuery(slug)).data
  const lane = useLane(slug)
  const [ending, setEnding] = useState<Ending | null>(null)
  useFocus(focus, lane)

  const end = (kind: "void" | "failed") => {
    if (lane.lane?.phase === "running" || (kind === "void" && lane.lane?.phase === "stopped")) {
      setEnding({ kind, at: lanes.now() })
    }
  }
  const onSpace = () => {
    if (lane.lane?.phase === "stopped") lane.rearm()
    else lane.start()
  }
  useKeys((event) => {
    // A running lane is stopped by its digit even where single letters are off.
    if (/^(Digit|Numpad)1$/.test(event.code) && lane.lane?.phase === "running") lane.stop()
    else if (!singleKeysOn() || !lane.lane) return false
    else if (event.code === "Space") onSpace()
    else if (event.code === "KeyU") lane.undo()
    else if (event.code === "KeyV") end("void")
    else if (event.code === "KeyF") end("failed")
    else return false
    return true
  })

  const timed = tasks?.filter(({ task }) => task.measure === "time").map(({ task }) => task)
  if (lineup && timed && (lineup.setups.length === 0 || timed.length === 0)) {
    return (
      <StagePage title="Bench">
        <EmptyStage title="Nothing to time yet">
          <p>
            The bench needs a setup and a task that yields a time.{" "}
            <Link
              to={lineup.setups.length === 0 ? "/s/$slug/lineup" : "/s/$slug/tasks"}
              params={{ slug }}
              search={{ focus: "add" }}
              className="underline"
            >
              {lineup.setups.length === 0 ? "Add machine" : "Add task"}
            </Link>
          </p>
        </EmptyStage>
      </StagePage>
    )
  }
  const task = timed?.find((each) => each.id === lane.lane?.taskId)
  const place = lineup?.setups.findIndex((setup) => setup.id === lane.lane?.setupId) ?? -1
  const setup = lineup?.setups[place]
  const best = bench?.best.find((each) => each.task_id === task?.id)
  const versions = bench?.round_versions.map(({ app, version }) => `${app} ${version}`).join(", ")
  return (
    <StagePage
      title={task?.name ?? "Bench"}
      aside={bench?.round && `${bench.round} round${versions ? ` · ${versions}` : ""}`}
    >
      {lineup && timed && (!lane.lane || !setup || !task) && (
        <ArmForm setups={onDesk(lineup)} tasks={timed} onArm={lane.arm} />
      )}
      {lane.lane && setup && task && (
        <LaneView
          lane={lane.lane}
          setup={setup}
          place={place}
          best={best}
          onStart={lane.start}
          onStop={lane.stop}
          onUndo={lane.undo}
          onRearm={lane.rearm}
          onEnd={end}
          onDisarm={lane.disarm}
        />
      )}
      {lane.lane && <EarlierRuns slug={slug} lane={lane.lane} />}
      {ending && lane.lane && (
        <ReasonForm
          ending={ending}
          onDone={(reason) => {
            if (reason !== null) lane.end(ending.kind, reason, ending.at)
            setEnding(null)
          }}
        />
      )}
      <LaneResult result={lane.result} error={lane.error} pending={lane.pending} />
    </StagePage>
  )
}

/** The setups of machines that are not retired. */
function onDesk(lineup: Schemas["LineUp"]): Schemas["Setup"][] {
  return lineup.columns.flatMap(({ machine }) =>
    machine.retired_at === null ? machine.setups : [],
  )
}

/** Arms the lane with the setup and task that the address names, once. */
function useFocus(focus: string | undefined, lane: ReturnType<typeof useLane>): void {
  const taken = useRef<string | null>(null)
  useEffect(() => {
    const [setup, task] = (focus ?? "").split(":")
    if (!focus || !setup || !task || taken.current === focus) return
    taken.current = focus
    if (lane.lane?.phase !== "running") lane.arm(setup, task)
  }, [focus, lane])
}

import { useQuery } from "@tanstack/react-query"
import { Link, useParams, useSearch } from "@tanstack/react-router"
import { useEffect, useRef, useState } from "react"
import type { Schemas } from "../../api/client"
import { benchQuery, lineupQuery, shootoutQuery, tasksQuery } from "../../api/queries"
import { type Bench as LaneBench, useBench } from "../../lanes/bench"
import * as desks from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import { newest } from "../../lanes/marks"
import { EmptyStage } from "../../parts/EmptyStage"
import { useReading } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { singleKeysOn, useKeys } from "../../parts/useKeys"
import { clock } from "../../theme/format"
import { ArmForm } from "./ArmForm"
import { BetweenRuns } from "./BetweenRuns"
import { EarlierRuns } from "./EarlierRuns"
import { LaneResult } from "./LaneResult"
import { LaneView } from "./LaneView"
import { MarkForm } from "./MarkForm"
import { OtherDevices } from "./OtherDevices"
import { type Ending, ReasonForm } from "./ReasonForm"
import { SimulatedRigs } from "./SimulatedRigs"
import { SittingPlan } from "./SittingPlan"
import { SoundSwitch } from "./SoundSwitch"

/** What is asked for a lane: a reason, or how far it is. */
type Asked = { number: number } & (Ending | { kind: "mark"; at: number })

/** The bench: up to eight lanes that are armed, started and stopped by key or tap. */
export function Bench() {
  const { slug } = useParams({ from: "/s/$slug/bench" })
  const { focus } = useSearch({ from: "/s/$slug/bench" })
  const lineup = useQuery(lineupQuery(slug)).data
  const tasks = useQuery(tasksQuery(slug)).data
  const facts = useQuery(benchQuery(slug)).data
  const shootout = useQuery(shootoutQuery(slug)).data
  const { bench, state } = useBench(slug)
  const { desk } = state
  const reading = useReading()
  const [asked, setAsked] = useState<Asked | null>(null)
  const [adding, setAdding] = useState(false)
  useFocus(focus, bench)

  const ask = (kind: Asked["kind"], at: number, number = desk.selected) => {
    const phase = desks.laneOf(desk, number)?.phase
    if (phase === "running" || (kind === "void" && phase === "stopped")) {
      setAsked({ kind, number, at })
    }
  }
  const falseStart = (number: number, at: number) => bench.end(number, "void", "false start", at)
  useKeys((event) => {
    if (reading || !singleKeysOn() || desk.lanes.length === 0) return false
    const digit = /^(?:Digit|Numpad)([1-8])$/.exec(event.code)?.[1]
    const at = lanes.momentOf(event)
    if (digit !== undefined && event.shiftKey) bench.start(Number(digit), at)
    else if (event.shiftKey) return false
    else if (event.code === "Space") bench.startNext(at)
    else if (event.code === "KeyA") bench.startAll(at)
    else if (event.code === "KeyU") bench.undo()
    else if (event.code === "KeyP") ask("mark", at)
    else if (event.code === "KeyX") falseStart(desk.selected, at)
    else if (event.code === "KeyV") ask("void", at)
    else if (event.code === "KeyF") ask("failed", at)
    else return false
    return true
  })

  const timed = tasks
    ?.filter(({ task }) => task.measure === "time" && !task.superseded)
    .map(({ task }) => task)
  if (lineup && timed && (lineup.setups.length === 0 || timed.length === 0)) {
    return <Nothing slug={slug} setups={lineup.setups.length} />
  }
  const versions = facts?.round_versions.map(({ app, version }) => `${app} ${version}`).join(", ")
  const round =
    facts?.round && (/^round\b/.test(facts.round) ? facts.round : `${facts.round} round`)
  const open = adding || desk.lanes.length === 0
  const task = desk.lanes.length === 1 ? taskOf(tasks, desk.lanes[0]?.taskId) : undefined
  return (
    <StagePage
      title={task?.name ?? "Bench"}
      aside={round && `${round}${versions ? ` · ${versions}` : ""}`}
      tools={
        <>
          {desk.lanes.length > 0 && <SoundSwitch />}
          {!open && !reading && desk.lanes.length < desks.MOST_LANES && (
            <button type="button" className="btn btn-sm" onClick={() => setAdding(true)}>
              Add a lane
            </button>
          )}
        </>
      }
    >
      {lineup && timed && open && !reading && (
        <ArmForm
          setups={onDesk(lineup)}
          tasks={timed}
          onArm={(setupId, taskIds) => {
            setAdding(false)
            bench.add(setupId, taskIds)
          }}
          onCancel={desk.lanes.length > 0 ? () => setAdding(false) : undefined}
        />
      )}
      {desk.lanes.map((lane) => {
        const setup = lineup?.setups.find((each) => each.id === lane.setupId)
        const own = taskOf(tasks, lane.taskId)
        if (!setup || !own) return null
        return (
          <LaneView
            key={lane.number}
            slug={slug}
            bench={bench}
            lane={lane}
            setup={setup}
            task={desk.lanes.length === 1 ? null : own.name}
            next={taskOf(tasks, lane.queue[0])?.name ?? null}
            selected={desk.lanes.length > 1 && desk.selected === lane.number}
            undoable={desks.undoable(desk, lanes.now())?.number === lane.number}
            sharing={desk.lanes.filter((each) => each.taskId === lane.taskId)}
            best={facts?.best.find((each) => each.task_id === own.id)}
            onAsk={(kind, at) => ask(kind, at, lane.number)}
            onFalseStart={(at) => falseStart(lane.number, at)}
          />
        )
      })}
      {desk.lanes.length === 1 && desk.lanes[0] && <EarlierRuns slug={slug} lane={desk.lanes[0]} />}
      {asked && asked.kind !== "mark" && (
        <ReasonForm
          ending={asked}
          after={clock(secondsOf(desk, asked))}
          known={newest(desks.laneOf(desk, asked.number)?.marks ?? [], "fraction")}
          onDone={(reason, reached) => {
            if (reason !== null) bench.end(asked.number, asked.kind, reason, asked.at, reached)
            setAsked(null)
          }}
        />
      )}
      {asked?.kind === "mark" && (
        <MarkForm
          why={(said) => desks.whyNoMark(desks.laneOf(desk, asked.number), said)}
          onDone={(said) => {
            if (said !== null) bench.mark(asked.number, said, asked.at)
            setAsked(null)
          }}
        />
      )}
      <LaneResult
        result={state.result}
        error={state.error}
        pending={state.pending}
        said={!desk.lanes.some((lane) => lane.key === state.result?.run.client_key)}
      />
      {reading && desk.lanes.length === 0 && (
        <EmptyStage title="No lane stands here">
          <p>What is timed on this bench shows here as it runs.</p>
        </EmptyStage>
      )}
      {lineup && !reading && <SittingPlan slug={slug} bench={bench} desk={desk} />}
      {lineup && tasks && !reading && (
        <BetweenRuns
          slug={slug}
          setups={onDesk(lineup)}
          tasks={tasks.filter(({ task: each }) => !each.superseded).map(({ task: each }) => each)}
          selected={desks.laneOf(desk, desk.selected) ?? null}
        />
      )}
      {!reading && <OtherDevices slug={slug} />}
      {shootout?.demo && !reading && <SimulatedRigs slug={slug} />}
    </StagePage>
  )
}

function Nothing({ slug, setups }: { slug: string; setups: number }) {
  return (
    <StagePage title="Bench">
      <EmptyStage title="Nothing to time yet">
        <p>
          The bench needs a setup and a task that yields a time.{" "}
          <Link
            to={setups === 0 ? "/s/$slug/lineup" : "/s/$slug/tasks"}
            params={{ slug }}
            search={{ focus: "add" }}
            className="underline"
          >
            {setups === 0 ? "Add machine" : "Add task"}
          </Link>
        </p>
      </EmptyStage>
    </StagePage>
  )
}

function secondsOf(desk: desks.Desk, { number, at }: { number: number; at: number }): number {
  const lane = desks.laneOf(desk, number)
  return lane ? lanes.elapsed(lane, at) : 0
}

function taskOf(sheets: Schemas["TaskSheet"][] | undefined, id: string | undefined) {
  return sheets?.find(({ task }) => task.id === id)?.task
}

/** The setups of machines that are not retired. */
function onDesk(lineup: Schemas["LineUp"]): Schemas["Setup"][] {
  return lineup.columns.flatMap(({ machine }) =>
    machine.retired_at === null ? machine.setups : [],
  )
}

/** Arms a lane with the setup and task that the address names, once, unless one has them. */
function useFocus(focus: string | undefined, bench: LaneBench): void {
  const taken = useRef<string | null>(null)
  useEffect(() => {
    const [setup, task] = (focus ?? "").split(":")
    if (!focus || !setup || !task || taken.current === focus) return
    taken.current = focus
    const { desk } = bench.read()
    const own = desk.lanes.find((lane) => lane.setupId === setup)
    if (own?.taskId === task || own?.phase === "running") return
    if (own) bench.remove(own.number)
    // A lone lane that stands idle gives way: "time it" means this one.
    else if (desk.lanes.length === 1 && desk.lanes[0]?.phase !== "running") {
      bench.remove(desk.lanes[0]?.number ?? 0)
    }
    bench.add(setup, [task])
  }, [focus, bench])
}

import { Link, useSearch } from "@tanstack/react-router"
import { useState } from "react"
import * as desks from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import { useReading } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { ArmForm } from "./ArmForm"
import { AskedForm } from "./AskedForm"
import { BesideLanes, Nothing } from "./BesideLanes"
import { CountDown } from "./CountDown"
import { EarlierRuns } from "./EarlierRuns"
import { EditingLog } from "./EditingLog"
import { FilmStage } from "./film/FilmStage"
import { LaneResult } from "./LaneResult"
import { LaneView } from "./LaneView"
import { SoundSwitch } from "./SoundSwitch"
import { type BenchStage, onDesk, taskOf, useBenchStage } from "./useBenchStage"

/** From so many timers on each is low, so that eight fit a screen and four a phone. */
const MANY = 4

/** The bench, or one of the views beside it. */
export function Bench() {
  const { view } = useSearch({ from: "/s/$slug/bench" })
  const reading = useReading()
  return view === "film" && !reading ? <FilmStage /> : <Timers />
}

/** Up to eight lanes that are armed, started and stopped by key or tap. */
function Timers() {
  const stage = useBenchStage()
  const { slug, lineup, tasks, timed, facts, state } = stage
  const { desk } = state
  const reading = useReading()
  const [adding, setAdding] = useState(false)
  const { view } = useSearch({ from: "/s/$slug/bench" })
  if (view === "log") return <Log stage={stage} />
  if (lineup && timed && (lineup.setups.length === 0 || timed.length === 0)) {
    return <Nothing slug={slug} setups={lineup.setups.length} />
  }
  const versions = facts?.round_versions.map(({ app, version }) => `${app} ${version}`).join(", ")
  const round =
    facts?.round && (/^round\b/.test(facts.round) ? facts.round : `${facts.round} round`)
  const open = adding || desk.lanes.length === 0
  const ended = desk.lanes.filter((lane) => lane.phase === "stopped").length
  const task = desk.lanes.length === 1 ? taskOf(tasks, desk.lanes[0]?.taskId) : undefined
  return (
    <StagePage
      title={task?.name ?? "Bench"}
      aside={
        round && (
          <span className={desk.lanes.length >= MANY ? "max-sm:hidden" : ""}>
            {round}
            {versions && ` · ${versions}`}
          </span>
        )
      }
      tools={
        <>
          {desk.lanes.length > 0 && <SoundSwitch />}
          {!reading && <CountDown bench={stage.bench} state={state} />}
          {!reading && desk.lanes.length > 1 && ended > 0 && (
            <button
              type="button"
              className="btn btn-sm btn-ghost"
              onClick={() => stage.bench.clear()}
            >
              {ended === 1 ? "Clear the finished timer" : `Clear ${ended} finished timers`}
            </button>
          )}
          {!open && !reading && desks.hasRoom(desk) && (
            <button type="button" className="btn btn-sm" onClick={() => setAdding(true)}>
              Add a timer
            </button>
          )}
          {!reading && open && (
            <Link
              to="/s/$slug/bench"
              params={{ slug }}
              search={{ view: "film" }}
              className="btn btn-sm"
            >
              Read times off a film
            </Link>
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
            stage.bench.add(setupId, taskIds)
          }}
          onWatch={async (setupId, taskIds, chosen) => {
            await stage.bench.addWatched(setupId, taskIds, chosen)
            setAdding(false)
          }}
          onCancel={desk.lanes.length > 0 ? () => setAdding(false) : undefined}
        />
      )}
      <Lanes stage={stage} />
      <LaneResult
        result={state.result}
        error={state.error}
        pending={state.pending}
        bounced={state.bounced}
        said={!desk.lanes.some((lane) => lane.key === state.result?.run.client_key)}
      />
      <BesideLanes stage={stage} />
    </StagePage>
  )
}

/** What was seen besides times, day by day. */
function Log({ stage }: { stage: BenchStage }) {
  const { slug, lineup, tasks } = stage
  const current = tasks?.filter(({ task }) => !task.superseded).map(({ task }) => task)
  return (
    <StagePage title="Editing log" aside="how it felt, and what went wrong">
      {lineup && current && (
        <EditingLog
          slug={slug}
          observed={{ setups: lineup.setups, tasks: current, selected: null, onDone: () => {} }}
        />
      )}
    </StagePage>
  )
}

/** Every lane, and the earlier runs of one that stands alone. */
function Lanes({ stage }: { stage: BenchStage }) {
  const { slug, bench, lineup, tasks, facts } = stage
  const { desk } = stage.state
  const alone = desk.lanes.length === 1 ? desk.lanes[0] : undefined
  return (
    <>
      {desk.lanes.map((lane) => {
        const setup = lineup?.setups.find((each) => each.id === lane.setupId)
        const task = taskOf(tasks, lane.taskId)
        if (!setup || !task) return null
        return (
          <LaneView
            key={lane.number}
            slug={slug}
            bench={bench}
            lane={lane}
            setup={setup}
            task={alone ? null : task.name}
            next={taskOf(tasks, lane.queue[0])?.name ?? null}
            selected={!alone && desk.selected === lane.number}
            undoable={desks.undoable(desk, lanes.now())?.number === lane.number}
            redoable={desks.redoable(desk, lanes.now())?.number === lane.number}
            dense={desk.lanes.length >= MANY}
            watch={stage.state.watches.get(lane.id)}
            form={stage.asked?.number === lane.number ? <AskedForm stage={stage} /> : null}
            sharing={desk.lanes.filter((each) => each.taskId === lane.taskId)}
            best={facts?.best.find((each) => each.task_id === task.id)}
            usual={
              facts?.usual.find((each) => each.task_id === task.id && each.setup_id === setup.id)
                ?.seconds
            }
            onAsk={(kind, at) => stage.ask(kind, at, lane.number)}
            onFalseStart={(at) => stage.falseStart(lane.number, at)}
          />
        )
      })}
      {alone && <EarlierRuns slug={slug} lane={alone} />}
    </>
  )
}

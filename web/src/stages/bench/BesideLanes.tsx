import { Link } from "@tanstack/react-router"
import * as desks from "../../lanes/desk"
import { EmptyStage } from "../../parts/EmptyStage"
import { Fold } from "../../parts/Fold"
import { useReading } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { BetweenRuns } from "./BetweenRuns"
import { OtherDevices } from "./OtherDevices"
import { Overlays } from "./Overlays"
import { SimulatedRigs } from "./SimulatedRigs"
import { SittingPlan } from "./SittingPlan"
import { type BenchStage, onDesk } from "./useBenchStage"

/** What is done between runs, and who else works here. */
export function BesideLanes({ stage }: { stage: BenchStage }) {
  const { slug, bench, lineup, tasks, shootout } = stage
  const { desk } = stage.state
  if (useReading()) {
    return desk.lanes.length > 0 ? null : (
      <EmptyStage title="No timers yet">
        <p>What is timed on this bench shows here as it runs.</p>
      </EmptyStage>
    )
  }
  const current = tasks?.filter(({ task }) => !task.superseded).map(({ task }) => task)
  return (
    <div className="mt-8">
      {lineup && (
        <Fold title="Plan a session">
          <SittingPlan slug={slug} bench={bench} desk={desk} />
        </Fold>
      )}
      {lineup && current && (
        <Fold title="Between runs: how editing feels, and problems">
          <BetweenRuns
            slug={slug}
            setups={onDesk(lineup)}
            tasks={current}
            selected={desks.laneOf(desk, desk.selected) ?? null}
          />
        </Fold>
      )}
      <OtherDevices slug={slug} />
      <Overlays slug={slug} />
      {shootout?.demo && (
        <Fold title="Simulated machines">
          <SimulatedRigs slug={slug} />
        </Fold>
      )}
    </div>
  )
}

export function Nothing({ slug, setups }: { slug: string; setups: number }) {
  return (
    <StagePage title="Bench">
      <EmptyStage title="Nothing to time yet">
        <p>
          The bench needs a machine and a task to time.{" "}
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

import * as desks from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import { newest } from "../../lanes/marks"
import { clock } from "../../theme/format"
import { MarkForm } from "./MarkForm"
import { ReasonForm } from "./ReasonForm"
import type { BenchStage } from "./useBenchStage"

/** What a lane needs to be told: why it ended, or how far it is. */
export function AskedForm({ stage }: { stage: BenchStage }) {
  const { bench, asked, setAsked } = stage
  const { desk } = stage.state
  if (asked === null) return null
  const lane = desks.laneOf(desk, asked.number)
  if (asked.kind === "mark") {
    return (
      <MarkForm
        why={(said) => desks.whyNoMark(lane, said)}
        onDone={(said) => {
          if (said !== null) bench.mark(asked.number, said, asked.at)
          setAsked(null)
        }}
      />
    )
  }
  return (
    <ReasonForm
      ending={asked}
      after={clock(lane ? lanes.elapsed(lane, asked.at) : 0)}
      known={newest(lane?.marks ?? [], "fraction")}
      onDigit={(number, at) => {
        if (desks.laneOf(desk, number)?.phase !== "running") return false
        bench.stop(number, at)
        return true
      }}
      onDone={(reason, reached) => {
        if (reason !== null) bench.end(asked.number, asked.kind, reason, asked.at, reached)
        setAsked(null)
      }}
    />
  )
}

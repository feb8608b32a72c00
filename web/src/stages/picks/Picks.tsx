import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { KeepBar } from "./KeepBar"
import { PickSide } from "./PickSide"
import { type PicksState, usePicks } from "./usePicks"
import { ViewerActions } from "./ViewerActions"
import { ViewerFields } from "./ViewerFields"

/** Which machine for which viewer, how surely, and when the answer changes. */
export function Picks() {
  const picks = usePicks()
  if (picks.error) {
    return (
      <StagePage title="Picks">
        <ProblemNote error={picks.error} />
      </StagePage>
    )
  }
  if (!picks.cards || !picks.tasks || !picks.lineup) {
    return <StagePage title="Picks">Loading…</StagePage>
  }
  if (picks.viewer === null) {
    return (
      <StagePage title="Picks">
        <EmptyStage title="Who is it for?">
          <p>
            Describe a viewer: what they export each week, their budget, their current machine. You
            get the machine to buy and how certain that is.
          </p>
          <Writes>
            <ViewerActions
              slug={picks.slug}
              cards={picks.cards}
              viewer={null}
              onOpen={picks.open}
            />
          </Writes>
        </EmptyStage>
      </StagePage>
    )
  }
  return <OfViewer picks={picks as PicksState} />
}

function OfViewer({ picks }: { picks: PicksState }) {
  return (
    <StagePage title="Picks" aside="which machine for whom">
      <KeepBar
        slug={picks.slug}
        viewer={picks.viewer.id}
        base={picks.base}
        draft={picks.draft}
        prices={picks.prices}
        onDone={picks.putBack}
      />
      <div className="picks">
        <ViewerFields picks={picks} />
        <PickSide picks={picks} />
      </div>
    </StagePage>
  )
}

import type { Schemas } from "../../api/client"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { CallLegend } from "../../parts/rule/CallLegend"
import { percent } from "../../theme/format"
import { BeforeData } from "./BeforeData"
import { Ladder } from "./Ladder"
import { OffLadder } from "./OffLadder"
import { SpecScatter } from "./SpecScatter"
import { useChangedResults } from "./useChangedResults"

/** The ladder with the sentence over it, those below it, and what explains it. */
export function LadderView({
  slug,
  view,
  picked,
  onPick,
  onBaseline,
  onFigure,
  error,
}: {
  slug: string
  view: Schemas["LadderView"]
  /** Ids of the selected setups, at most two. */
  picked: string[]
  onPick: (id: string) => void
  onBaseline: (id: string) => void
  /** Opens the working of one setup's figures. */
  onFigure: (id: string) => void
  /** Why the baseline could not be changed. */
  error: unknown
}) {
  useChangedResults(view)
  if (view.rows.length === 0) {
    return (
      <>
        <EmptyStage title="Nothing to compare yet">
          <p>{view.summary}</p>
          <p>
            Time one task on two machines, on the Bench or in Runs. The ranking is here from the
            first run on.
          </p>
        </EmptyStage>
        <OffLadder slug={slug} off={view.off} />
        <h2 className="mt-4 mb-2 text-16">Before any data: how many runs it takes</h2>
        <BeforeData slug={slug} />
      </>
    )
  }
  return (
    <>
      <div data-testid="summary">
        <p className="max-w-3xl font-head text-22 leading-7 font-bold">{view.headline}</p>
        {view.worth && <p className="mt-1 text-16">{view.worth}</p>}
        {view.detail && <p className="mt-1 max-w-3xl text-13 text-mute">{view.detail}</p>}
      </div>
      <div className="mt-3" />
      <Ladder
        slug={slug}
        view={view}
        picked={picked}
        onPick={onPick}
        onBaseline={onBaseline}
        onFigure={onFigure}
      />
      <ProblemNote error={error} />
      <OffLadder slug={slug} off={view.off} />
      {view.notes.map((note) => (
        <p key={note} className="mt-3 max-w-3xl text-13 text-mute">
          {note}
        </p>
      ))}
      <div className="mt-5 space-y-2">
        <CallLegend />
        <p className="max-w-3xl text-13 text-mute">
          Bar: {percent(view.confidence)} interval. Shaded: less than {percent(view.materiality)}{" "}
          apart, too small to matter. Bracket: shared ranks.
          {view.spread_cv !== null &&
            ` Runs vary by ${percent(view.spread_cv)} (${view.spread_basis}).`}
          {view.beside.length > 0 &&
            " Hatched: not timed here; known by a bound, which is open at one end, or by what somebody else noted."}
        </p>
      </div>
      <details className="mt-5">
        <summary className="font-head font-bold">Which spec goes with speed?</summary>
        <div className="mt-2">
          <SpecScatter slug={slug} task={view.key} />
        </div>
      </details>
      <details className="mt-3">
        <summary className="font-head font-bold">How many runs do I need?</summary>
        <div className="mt-2">
          <BeforeData slug={slug} />
        </div>
      </details>
    </>
  )
}

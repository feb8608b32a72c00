import { ProblemNote } from "../../parts/ProblemNote"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { ViewLine } from "../../parts/ViewLine"
import { Ahead } from "./Ahead"
import { Answer } from "./Answer"
import { BesideTable } from "./BesideTable"
import { FieldTable } from "./FieldTable"
import { PriceSpeed } from "./PriceSpeed"
import { Turns } from "./Turns"
import { UpgradeTable } from "./UpgradeTable"
import { type PicksState, VIEWS } from "./usePicks"
import { ViewerStrip } from "./ViewerStrip"

/** Fields that say themselves what is wrong with them. */
const FIELDS = [
  "accepted",
  "attended",
  "budget",
  "currency",
  "energy_price",
  "horizon_years",
  "hour_value",
  "needs",
  "owned_setup_id",
  "resale",
  "tasks",
  "tax_percent",
  "weeks",
]

/** The answer: the field as a picture, the pick in words, all viewers, and what lies behind. */
export function PickSide({ picks }: { picks: PicksState }) {
  const { slug, view, draft, viewer } = picks
  const placeOf = useSetupPlaces(slug)
  return (
    <div className="picks-right">
      <section className="picks-chart" aria-label="Price against speed">
        <div className="flex flex-wrap items-baseline gap-x-3">
          <h2 className="text-14">Price against speed for this work</h2>
          {view?.reference && (
            <span className="text-12 text-mute">times as fast as {view.reference}</span>
          )}
        </div>
        {view && (
          <PriceSpeed
            view={view}
            budget={draft.budget === null ? null : Number(draft.budget)}
            placeOf={placeOf}
            onTry={picks.tryPrice}
          />
        )}
      </section>
      <PickWords picks={picks} placeOf={placeOf} />
      <div className="picks-strip">
        <ViewerStrip
          slug={slug}
          cards={picks.cards.filter((each) => each.viewer.retired_at === null)}
          current={viewer.id}
          view={picks.searched}
          placeOf={placeOf}
        />
      </div>
      <div className="picks-views">
        <ViewLine
          slug={slug}
          stage="/s/$slug/picks"
          views={VIEWS}
          current={picks.current}
          search={(id) => ({ viewer: viewer.id, ...(id === "field" ? {} : { view: id }) })}
        />
        <OpenView picks={picks} placeOf={placeOf} />
      </div>
    </div>
  )
}

type Placed = {
  picks: PicksState
  /** Mark of a setup by id. */
  placeOf: (id: string) => number
}

function PickWords({ picks, placeOf }: Placed) {
  const { view, draft, refused } = picks
  return (
    <section className="picks-answer" aria-label="The pick">
      {refused && !FIELDS.includes(refused.field ?? "") && (
        <ProblemNote error={picks.answerError} />
      )}
      {refused && (
        <p className="mb-1 text-13 text-accent">
          This is the last answer that could be worked out.
        </p>
      )}
      {view && (
        <Answer
          view={view}
          draft={draft}
          stale={picks.waiting}
          placeOf={placeOf}
          onRule={(rule) => picks.setDraft({ ...draft, rule })}
          onTry={picks.tryPrice}
        />
      )}
      <ProblemNote error={picks.storedError} />
    </section>
  )
}

/** The view that is chosen below the answer. */
function OpenView({ picks, placeOf }: Placed) {
  const { slug, view, current, viewer, draft } = picks
  if (!view) return null
  if (current === "upgrade") {
    return <UpgradeTable slug={slug} viewer={viewer.id} view={view} placeOf={placeOf} />
  }
  if (current === "turns") {
    return <Turns slug={slug} trial={picks.trial} draft={draft} onDraft={picks.setDraft} />
  }
  if (current === "ahead") return <Ahead view={view} />
  if (current === "beside") return <BesideTable view={view} placeOf={placeOf} />
  return <FieldTable view={view} placeOf={placeOf} />
}

import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { problemOf } from "../../api/client"
import { cardsQuery, pickQuery } from "../../api/picks"
import { lineupQuery, tasksQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { ViewLine } from "../../parts/ViewLine"
import { AcceptedTimes } from "./AcceptedTimes"
import { Ahead } from "./Ahead"
import { Answer } from "./Answer"
import { BesideTable } from "./BesideTable"
import { changesOf, type Draft, draftOf, type Prices } from "./draft"
import { FieldTable } from "./FieldTable"
import { KeepBar } from "./KeepBar"
import { MoneyFields } from "./MoneyFields"
import { Needs } from "./Needs"
import { PriceSpeed } from "./PriceSpeed"
import { Turns } from "./Turns"
import { UpgradeTable } from "./UpgradeTable"
import { useAnswer } from "./useAnswer"
import { ViewerActions } from "./ViewerActions"
import { ViewerStrip } from "./ViewerStrip"
import { WorkRows } from "./WorkRows"

const VIEWS = [
  { id: "field", title: "The field" },
  { id: "upgrade", title: "Against the owned" },
  { id: "turns", title: "What would change it" },
  { id: "ahead", title: "Steps, offers, waiting" },
  { id: "beside", title: "Beside the money" },
]
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
/** What is tried, and the viewer as it stood when the trying began. */
type Tried = {
  viewer: string
  base: { draft: Draft; version: number } | null
  draft: Draft | null
  prices: Prices
}
const UNTRIED: Tried = { viewer: "", base: null, draft: null, prices: {} }

/** The answer with prices where the hand has them by now, before a newer answer is there. */
function atTried(view: Schemas["PickView"], prices: Prices): Schemas["PickView"] {
  const rows = view.rows.map((row) => {
    const machine = prices[row.machine_id]
    if (machine === undefined || row.keep) return row
    const amount = (Number(machine) + Number(row.price.extras)).toFixed(2)
    return { ...row, price: { ...row.price, amount } }
  })
  return { ...view, rows }
}

/** Which machine for which viewer, how surely, and when the answer changes. */
export function Picks() {
  const { slug } = useParams({ from: "/s/$slug/picks" })
  const search = useSearch({ from: "/s/$slug/picks" })
  const navigate = useNavigate({ from: "/s/$slug/picks" })
  const cards = useQuery(cardsQuery(slug))
  const tasks = useQuery(tasksQuery(slug)).data
  const lineup = useQuery(lineupQuery(slug)).data
  const placeOf = useSetupPlaces(slug)
  const [held, setTried] = useState<Tried>(UNTRIED)

  const all = cards.data ?? []
  const card =
    all.find((each) => each.viewer.id === search.viewer) ??
    all.find((each) => each.viewer.retired_at === null) ??
    all[0]
  const viewer = card?.viewer ?? null
  // What was tried for one viewer is not tried for another.
  const tried = viewer && held.viewer === viewer.id ? held : UNTRIED
  // A change of somebody else in the meantime must not look like one made here.
  const stored = viewer === null ? null : (tried.base?.draft ?? draftOf(viewer))
  const draft = tried.draft ?? stored
  const moved =
    stored !== null &&
    draft !== null &&
    (Object.keys(changesOf(stored, draft)).length > 0 || Object.keys(tried.prices).length > 0)
  const trial: Schemas["WhatIf"] | null =
    draft === null ? null : { viewer: draft, prices: tried.prices }
  const asStored = useQuery(pickQuery(slug, viewer?.id ?? ""))
  const answer = useAnswer(slug, moved ? trial : null)
  const answered = (moved ? answer.view : null) ?? asStored.data ?? null
  const view = answered === null ? null : atTried(answered, tried.prices)
  const refused = problemOf(answer.error)
  const current = VIEWS.find((each) => each.id === search.view)?.id ?? "field"

  const errorOf = (field: string) => {
    if (refused?.field === field) return refused.detail
    const known = view?.problem
    return known?.field === field && !refused ? known.words : null
  }
  const setDraft = (next: Draft) =>
    viewer &&
    setTried({
      viewer: viewer.id,
      base: tried.base ?? { draft: draftOf(viewer), version: viewer.version },
      draft: next,
      prices: tried.prices,
    })
  const tryPrice = (row: Schemas["PickRow"], price: number) => {
    if (!viewer) return
    const machine = Math.max(0, price - Number(row.price.extras))
    setTried({
      viewer: viewer.id,
      base: tried.base,
      draft: tried.draft,
      prices: { ...tried.prices, [row.machine_id]: machine.toFixed(2) },
    })
  }
  const open = (id: string) =>
    void navigate({ search: { viewer: id, ...(search.view ? { view: search.view } : {}) } })

  if (cards.error) {
    return (
      <StagePage title="Picks">
        <ProblemNote error={cards.error} />
      </StagePage>
    )
  }
  if (!cards.data || !tasks || !lineup)
    return <StagePage title="Picks">Reading the book…</StagePage>
  if (viewer === null || draft === null || trial === null) {
    return (
      <StagePage title="Picks">
        <EmptyStage title="Whom is it for?">
          <p>
            Add a viewer: what they do in a week, what they can pay, what they own. The machine to
            buy follows, with how sure that is.
          </p>
          <Writes>
            <ViewerActions slug={slug} cards={all} viewer={null} onOpen={open} />
          </Writes>
        </EmptyStage>
      </StagePage>
    )
  }
  const timed = tasks
    .map((sheet) => sheet.task)
    .filter((task) => !task.superseded && task.measure !== "observation")
  return (
    <StagePage title="Picks" aside="which machine for whom">
      <KeepBar
        slug={slug}
        viewer={viewer.id}
        base={tried.base ?? { draft: draftOf(viewer), version: viewer.version }}
        draft={draft}
        prices={tried.prices}
        onDone={() => setTried(UNTRIED)}
      />
      <div className="picks">
        <div className="picks-left">
          <div>
            <label className="block">
              <span className="block text-[13px] text-mute">Viewer</span>
              <select
                className="picks-viewer"
                value={viewer.id}
                onChange={(event) => open(event.target.value)}
              >
                {all.map((each) => (
                  <option key={each.viewer.id} value={each.viewer.id}>
                    {each.viewer.name}
                    {each.viewer.retired_at !== null ? " (retired)" : ""}
                  </option>
                ))}
              </select>
            </label>
            <Writes>
              <ViewerActions slug={slug} cards={all} viewer={viewer} onOpen={open} />
            </Writes>
          </div>
          <div className="picks-fields">
            <WorkRows
              key={viewer.id}
              tasks={timed}
              draft={draft}
              error={errorOf("tasks")}
              onDraft={setDraft}
            />
            {draft.rule === "enough" && (
              <AcceptedTimes
                key={viewer.id}
                tasks={timed}
                draft={draft}
                error={errorOf("accepted")}
                onDraft={setDraft}
              />
            )}
            <MoneyFields
              setups={lineup.setups}
              draft={draft}
              errorOf={errorOf}
              onDraft={setDraft}
            />
            <Needs
              rows={lineup.rows}
              words={view?.needs ?? []}
              draft={draft}
              error={errorOf("needs")}
              onDraft={setDraft}
            />
          </div>
        </div>
        <div className="picks-right">
          <section className="picks-chart" aria-label="Price against speed">
            <div className="flex flex-wrap items-baseline gap-x-3">
              <h2 className="text-[14px]">Price against speed for this work</h2>
              {view?.reference && (
                <span className="text-[12px] text-mute">times as fast as {view.reference}</span>
              )}
            </div>
            {view && (
              <PriceSpeed
                view={view}
                budget={draft.budget === null ? null : Number(draft.budget)}
                placeOf={placeOf}
                onTry={tryPrice}
              />
            )}
          </section>
          <section className="picks-answer" aria-label="The pick">
            {refused && !FIELDS.includes(refused.field ?? "") && (
              <ProblemNote error={answer.error} />
            )}
            {refused && (
              <p className="mb-1 text-[13px] text-accent">
                This is the last answer that could be worked out.
              </p>
            )}
            {view && (
              <Answer
                view={view}
                draft={draft}
                stale={answer.waiting}
                placeOf={placeOf}
                onRule={(rule) => setDraft({ ...draft, rule })}
                onTry={tryPrice}
              />
            )}
            <ProblemNote error={asStored.error} />
          </section>
          <div className="picks-strip">
            <ViewerStrip
              slug={slug}
              cards={all.filter((each) => each.viewer.retired_at === null)}
              current={viewer.id}
              view={search.view}
              placeOf={placeOf}
            />
          </div>
          <div className="picks-views">
            <ViewLine
              slug={slug}
              stage="/s/$slug/picks"
              views={VIEWS}
              current={current}
              search={(id) => ({ viewer: viewer.id, ...(id === "field" ? {} : { view: id }) })}
            />
            {view && current === "field" && <FieldTable view={view} placeOf={placeOf} />}
            {view && current === "upgrade" && (
              <UpgradeTable slug={slug} viewer={viewer.id} view={view} placeOf={placeOf} />
            )}
            {view && current === "turns" && (
              <Turns slug={slug} trial={trial} draft={draft} onDraft={setDraft} />
            )}
            {view && current === "ahead" && <Ahead view={view} />}
            {view && current === "beside" && <BesideTable view={view} placeOf={placeOf} />}
          </div>
        </div>
      </div>
    </StagePage>
  )
}

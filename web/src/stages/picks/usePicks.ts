import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { problemOf, type Schemas } from "../../api/client"
import { cardsQuery, pickQuery } from "../../api/picks"
import { lineupQuery, tasksQuery } from "../../api/queries"
import { useKept } from "../../parts/useKept"
import { changesOf, type Draft, draftOf, type Prices } from "./draft"
import { useAnswer } from "./useAnswer"

export const VIEWS = [
  { id: "field", title: "All machines" },
  { id: "upgrade", title: "Compared with theirs" },
  { id: "turns", title: "What would change it" },
  { id: "ahead", title: "Upgrades and offers" },
  { id: "beside", title: "Noise, heat, power" },
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
    const amount = prices[row.setup_id]
    return amount === undefined ? row : { ...row, price: { ...row.price, amount } }
  })
  return { ...view, rows }
}

/** Tried prices with one more; a machine has one price, so its other setups follow that. */
function withPrice(
  prices: Prices,
  rows: Schemas["PickRow"][],
  row: Schemas["PickRow"],
  price: number,
): Prices {
  const siblings = rows.filter((each) => each.machine_id === row.machine_id)
  const others = Object.entries(prices).filter(
    ([setup]) => !siblings.some((each) => each.setup_id === setup),
  )
  return { ...Object.fromEntries(others), [row.setup_id]: String(price) }
}

/** The stage Picks: who is open, what is tried for them, and the answer to it. */
export function usePicks() {
  const { slug } = useParams({ from: "/s/$slug/picks" })
  const search = useSearch({ from: "/s/$slug/picks" })
  const navigate = useNavigate({ from: "/s/$slug/picks" })
  const cards = useQuery(cardsQuery(slug))
  const tasks = useQuery(tasksQuery(slug)).data
  const lineup = useQuery(lineupQuery(slug)).data
  // What is tried stays when one looks at another stage, until it is saved or undone.
  const [held, keepTried, dropTried] = useKept<Tried>(`picks ${slug}`, UNTRIED)
  const setTried = (next: Tried) => keepTried(() => next)

  const all = cards.data ?? []
  const card =
    all.find((each) => each.viewer.id === search.viewer) ??
    all.find((each) => each.viewer.retired_at === null) ??
    all[0]
  const viewer = card?.viewer ?? null
  // What was tried for one viewer is not tried for another.
  const tried = viewer && held.viewer === viewer.id ? held : UNTRIED
  const stored = viewer && { draft: draftOf(viewer), version: viewer.version }
  // A change of somebody else in the meantime must not look like one made here.
  const base = tried.base ?? stored
  const draft = tried.draft ?? base?.draft ?? null
  const moved =
    base !== null &&
    draft !== null &&
    (Object.keys(changesOf(base.draft, draft)).length > 0 || Object.keys(tried.prices).length > 0)
  const trial: Schemas["WhatIf"] | null =
    draft === null ? null : { viewer: draft, prices: tried.prices }
  const asStored = useQuery(pickQuery(slug, viewer?.id ?? ""))
  const answer = useAnswer(slug, moved ? trial : null)
  const answered = (moved ? answer.view : null) ?? asStored.data ?? null
  const view = answered === null ? null : atTried(answered, tried.prices)
  const refused = problemOf(answer.error)

  return {
    slug,
    /** Every viewer with the pick in short; undefined until they are read. */
    cards: cards.data,
    tasks,
    lineup,
    viewer,
    draft,
    base,
    trial,
    prices: tried.prices,
    view,
    /** True while a newer answer is awaited. */
    waiting: answer.waiting,
    refused,
    error: cards.error,
    answerError: answer.error,
    storedError: asStored.error,
    /** The view that is open beside the answer. */
    current: VIEWS.find((each) => each.id === search.view)?.id ?? "field",
    searched: search.view,
    /** What is wrong with a field, in words. */
    errorOf: (field: string) => {
      if (refused?.field === field) return refused.detail
      const known = view?.problem
      return known?.field === field && !refused ? known.words : null
    },
    setDraft: (next: Draft) =>
      viewer &&
      setTried({
        viewer: viewer.id,
        base: tried.base ?? stored,
        draft: next,
        prices: tried.prices,
      }),
    tryPrice: (row: Schemas["PickRow"], price: number) =>
      viewer &&
      setTried({
        ...tried,
        viewer: viewer.id,
        prices: withPrice(tried.prices, view?.rows ?? [], row, price),
      }),
    putBack: dropTried,
    open: (id: string) =>
      void navigate({ search: { viewer: id, ...(search.view ? { view: search.view } : {}) } }),
  }
}

/** The stage once there is a viewer, and everything that it rests on was read. */
export type PicksState = ReturnType<typeof usePicks> & {
  cards: Schemas["ViewerCard"][]
  tasks: Schemas["TaskSheet"][]
  lineup: Schemas["LineUp"]
  viewer: Schemas["Viewer"]
  draft: Draft
  base: { draft: Draft; version: number }
  trial: Schemas["WhatIf"]
}

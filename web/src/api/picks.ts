/** Viewers and what is picked for each; tried answers are never stored. */
import { followed, followedAnyway, useChange } from "./change"
import { api, calls, type Schemas, unwrap } from "./client"
import { at, STAYS } from "./queries"

const PICK = "/api/v1/shootouts/{slug}/picks/{viewer_id}"
const of = (slug: string, viewer_id: string) => ({ params: { path: { slug, viewer_id } } })

export const cardsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/picks", at(slug))

export const pickQuery = (slug: string, viewer: string) =>
  api.queryOptions("get", PICK, of(slug, viewer), { ...STAYS, enabled: viewer !== "" })

export const savedQuery = (slug: string, viewer_id: string, setup_id: string) =>
  api.queryOptions(
    "get",
    `${PICK}/saved/{setup_id}`,
    { params: { path: { slug, viewer_id, setup_id } } },
    { ...STAYS, enabled: setup_id !== "" },
  )

export const turnsQuery = (slug: string, trial: Schemas["WhatIf"]) =>
  api.queryOptions(
    "post",
    "/api/v1/shootouts/{slug}/picks/turns",
    { ...at(slug), body: trial },
    { ...STAYS, gcTime: 30_000 },
  )

export function tryPick(slug: string, trial: Schemas["WhatIf"]): Promise<Schemas["PickView"]> {
  return unwrap(calls.POST("/api/v1/shootouts/{slug}/picks/try", { ...at(slug), body: trial }))
}

export const useAddViewer = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/viewers",
    (body: Schemas["NewViewer"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useChangeViewer = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/viewers/{viewer_id}",
    ({ id, body }: { id: string; body: Schemas["ViewerChange"] }) => ({
      params: { path: { viewer_id: id } },
      body,
    }),
    followedAnyway(slug),
  )

export const useRetireViewer = (slug: string) =>
  useChange(
    "post",
    "/api/v1/viewers/{viewer_id}/retirement",
    ({ id, retired }: { id: string; retired: boolean }) => ({
      params: { path: { viewer_id: id } },
      body: { retired },
    }),
    followed(slug),
  )

export const useOrderViewers = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/viewers/order",
    (viewer_ids: string[]) => ({ ...at(slug), body: { viewer_ids } }),
    followedAnyway(slug),
  )

export const useKeepPrices = (slug: string) =>
  useChange(
    "post",
    `${PICK}/prices`,
    ({ id, prices }: { id: string; prices: Record<string, string> }) => ({
      ...of(slug, id),
      body: { prices },
    }),
    followed(slug),
  )

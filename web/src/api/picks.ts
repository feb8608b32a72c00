/** Viewers and what is picked for each; tried answers are never stored. */
import { keepPreviousData, queryOptions, useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { refresh } from "./queries"

const at = (slug: string) => ({ params: { path: { slug } } })
const of = (slug: string, viewer_id: string) => ({ params: { path: { slug, viewer_id } } })

export const cardsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "picks"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/picks", at(slug))),
  })

export const pickQuery = (slug: string, viewer: string) =>
  queryOptions({
    queryKey: ["in", slug, "pick", viewer],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/picks/{viewer_id}", of(slug, viewer))),
    enabled: viewer !== "",
    placeholderData: keepPreviousData,
  })

export const savedQuery = (slug: string, viewer_id: string, setup_id: string) =>
  queryOptions({
    queryKey: ["in", slug, "saved", viewer_id, setup_id],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/picks/{viewer_id}/saved/{setup_id}", {
          params: { path: { slug, viewer_id, setup_id } },
        }),
      ),
    enabled: setup_id !== "",
    placeholderData: keepPreviousData,
  })

export const turnsQuery = (slug: string, trial: Schemas["WhatIf"]) =>
  queryOptions({
    queryKey: ["in", slug, "turns", trial],
    queryFn: () =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/picks/turns", { ...at(slug), body: trial })),
    placeholderData: keepPreviousData,
    gcTime: 30_000,
  })

export function tryPick(slug: string, trial: Schemas["WhatIf"]): Promise<Schemas["PickView"]> {
  return unwrap(api.POST("/api/v1/shootouts/{slug}/picks/try", { ...at(slug), body: trial }))
}

export function useAddViewer(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewViewer"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/viewers", { ...at(slug), body })),
    onSuccess: () => refresh(slug),
  })
}

export function useChangeViewer(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["ViewerChange"] }) =>
      unwrap(
        api.PATCH("/api/v1/viewers/{viewer_id}", { params: { path: { viewer_id: id } }, body }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useRetireViewer(slug: string) {
  return useMutation({
    mutationFn: ({ id, retired }: { id: string; retired: boolean }) =>
      unwrap(
        api.POST("/api/v1/viewers/{viewer_id}/retirement", {
          params: { path: { viewer_id: id } },
          body: { retired },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useOrderViewers(slug: string) {
  return useMutation({
    mutationFn: (viewer_ids: string[]) =>
      unwrap(
        api.PUT("/api/v1/shootouts/{slug}/viewers/order", { ...at(slug), body: { viewer_ids } }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useKeepPrices(slug: string) {
  return useMutation({
    mutationFn: ({ id, prices }: { id: string; prices: Record<string, string> }) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/picks/{viewer_id}/prices", {
          ...of(slug, id),
          body: { prices },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

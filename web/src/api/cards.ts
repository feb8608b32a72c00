/** Kept cards, and what is given away: texts, reports, editions. */
import { queryOptions, useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { queryClient, refresh } from "./queries"

const at = (slug: string) => ({ params: { path: { slug } } })
const of = (slug: string, card_id: string) => ({ params: { path: { slug, card_id } } })

export const keptCardsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "cards"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/cards", at(slug))),
  })

export const textsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "texts"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/texts", at(slug))),
  })

export const reportsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "reports"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/reports", at(slug))),
    // One that is being made is looked at every second.
    refetchInterval: ({ state }) =>
      state.data?.some((view) => view.report.state === "running") ? 1000 : false,
  })

export const publicQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "public"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/public", at(slug))),
  })

/** Where a card's picture is; the version and the book's revision make it a new one. */
export function pictureOf(
  slug: string,
  view: Schemas["CardView"],
  shape: string,
  look: string,
  kind: "svg" | "png",
): string {
  const path = `/api/v1/shootouts/${slug}/cards/${view.card.id}/${shape}-${look}.${kind}`
  return `${path}?v=${view.card.version}-${view.revision}`
}

export function useAddCard(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewCard"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/cards", { ...at(slug), body })),
    onSuccess: () => refresh(slug),
  })
}

export function useChangeCard(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["CardChange"] }) =>
      unwrap(api.PATCH("/api/v1/shootouts/{slug}/cards/{card_id}", { ...of(slug, id), body })),
    onSuccess: (made) => {
      queryClient.setQueryData(keptCardsQuery(slug).queryKey, (known) =>
        known?.map((each) => (each.card.id === made.card.id ? made : each)),
      )
      void refresh(slug)
    },
  })
}

export function useRetireCard(slug: string) {
  return useMutation({
    mutationFn: ({ id, version, retired }: { id: string; version: number; retired: boolean }) =>
      unwrap(
        api.PUT("/api/v1/shootouts/{slug}/cards/{card_id}/retired", {
          ...of(slug, id),
          body: { version, retired },
        }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useOrderCards(slug: string) {
  return useMutation({
    mutationFn: (card_ids: string[]) =>
      unwrap(api.PUT("/api/v1/shootouts/{slug}/cards/order", { ...at(slug), body: { card_ids } })),
    onSettled: () => refresh(slug),
  })
}

export function useStartReport(slug: string) {
  return useMutation({
    mutationFn: () => unwrap(api.POST("/api/v1/shootouts/{slug}/reports", at(slug))),
    onSettled: () => queryClient.invalidateQueries({ queryKey: reportsQuery(slug).queryKey }),
  })
}

export function useEndReport(slug: string) {
  return useMutation({
    mutationFn: (report_id: string) =>
      unwrap(
        api.PUT("/api/v1/shootouts/{slug}/reports/{report_id}/ended", {
          params: { path: { slug, report_id } },
        }),
      ),
    onSettled: () => queryClient.invalidateQueries({ queryKey: reportsQuery(slug).queryKey }),
  })
}

/** Publishes an edition, makes a link or revokes one; each answers with all of them. */
export function usePublic(slug: string) {
  return useMutation({
    mutationFn: (what: { publish: string } | { revoke: string } | "link") => {
      if (what === "link")
        return unwrap(api.POST("/api/v1/shootouts/{slug}/public/links", at(slug)))
      if ("publish" in what)
        return unwrap(
          api.POST("/api/v1/shootouts/{slug}/public/editions", {
            ...at(slug),
            body: { note: what.publish.trim() || null },
          }),
        )
      return unwrap(
        api.PUT("/api/v1/shootouts/{slug}/public/links/{link_id}/revoked", {
          params: { path: { slug, link_id: what.revoke } },
        }),
      )
    },
    onSuccess: (view) => {
      queryClient.setQueryData(publicQuery(slug).queryKey, view)
      void queryClient.invalidateQueries({ queryKey: ["sheet", slug] })
    },
  })
}

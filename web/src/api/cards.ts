/** Kept cards, and what is given away: texts, reports, editions. */
import { useMutation } from "@tanstack/react-query"
import { followed, followedAnyway, type Nothing, useChange } from "./change"
import { api, calls, type Schemas, unwrap } from "./client"
import { at, queryClient, refresh, refreshSheet } from "./queries"

const CARD = "/api/v1/shootouts/{slug}/cards/{card_id}"
const of = (slug: string, card_id: string) => ({ params: { path: { slug, card_id } } })

export const keptCardsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/cards", at(slug))

export const textsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/texts", at(slug))

export const shotsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/shots", at(slug))

export const reportsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/reports", at(slug), {
    // One that is being made is looked at every second.
    refetchInterval: ({ state }) =>
      state.data?.some((view) => view.report.state === "running") ? 1000 : false,
  })

export const publicQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/public", at(slug))

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

export const useAddCard = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/cards",
    (body: Schemas["NewCard"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useChangeCard = (slug: string) =>
  useChange(
    "patch",
    CARD,
    ({ id, body }: { id: string; body: Schemas["CardChange"] }) => ({ ...of(slug, id), body }),
    {
      onSuccess: (made) => {
        queryClient.setQueryData<Schemas["CardView"][]>(keptCardsQuery(slug).queryKey, (known) =>
          known?.map((each) => (each.card.id === made.card.id ? made : each)),
        )
        void refresh(slug)
      },
    },
  )

export const useRetireCard = (slug: string) =>
  useChange(
    "put",
    `${CARD}/retired`,
    ({ id, version, retired }: { id: string; version: number; retired: boolean }) => ({
      ...of(slug, id),
      body: { version, retired },
    }),
    followedAnyway(slug),
  )

export const useOrderCards = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/cards/order",
    (card_ids: string[]) => ({ ...at(slug), body: { card_ids } }),
    followedAnyway(slug),
  )

const reportsAgain = (slug: string) => ({
  onSettled: () => queryClient.invalidateQueries({ queryKey: reportsQuery(slug).queryKey }),
})

export const useStartReport = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/reports",
    (_: Nothing) => at(slug),
    reportsAgain(slug),
  )

export const useEndReport = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/reports/{report_id}/ended",
    (report_id: string) => ({ params: { path: { slug, report_id } } }),
    reportsAgain(slug),
  )

/** Publishes an edition, makes a link or revokes one; each answers with all of them. */
export function usePublic(slug: string) {
  return useMutation({
    mutationFn: (what: { publish: string } | { revoke: string } | "link") => {
      if (what === "link") {
        return unwrap(calls.POST("/api/v1/shootouts/{slug}/public/links", at(slug)))
      }
      if ("publish" in what) {
        const body = { note: what.publish.trim() || null }
        return unwrap(calls.POST("/api/v1/shootouts/{slug}/public/editions", { ...at(slug), body }))
      }
      const link = { params: { path: { slug, link_id: what.revoke } } }
      return unwrap(calls.PUT("/api/v1/shootouts/{slug}/public/links/{link_id}/revoked", link))
    },
    onSuccess: (view) => {
      queryClient.setQueryData(publicQuery(slug).queryKey, view)
      void refreshSheet(slug)
    },
  })
}

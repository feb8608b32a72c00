/** Links to the race of a bench as it runs. */
import { type Nothing, useChange } from "./change"
import { api } from "./client"
import { at, queryClient } from "./queries"

export const overlaysQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/bench/overlays", at(slug))

const again = (slug: string) => ({
  onSettled: () => queryClient.invalidateQueries({ queryKey: overlaysQuery(slug).queryKey }),
})

export const useMakeOverlay = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/bench/overlays",
    (_: Nothing) => at(slug),
    again(slug),
  )

export const useRevokeOverlay = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/bench/overlays/{link_id}/revoked",
    (link_id: string) => ({ params: { path: { slug, link_id } } }),
    again(slug),
  )

/** Prices: records, extras, what a feed knows, and the rates that convert them. */
import { useMutation, useQuery } from "@tanstack/react-query"
import { followed, type Nothing, useChange } from "./change"
import { api, calls, type Schemas, unwrap } from "./client"
import { finished } from "./jobs"
import { at, queryClient, refresh } from "./queries"

export const useAddPrice = (slug: string) =>
  useChange(
    "post",
    "/api/v1/machines/{machine_id}/prices",
    ({ id, body }: { id: string; body: Schemas["NewPrice"] }) => ({
      params: { path: { machine_id: id } },
      body,
    }),
    followed(slug),
  )

export const useWithdrawPrice = (slug: string) =>
  useChange(
    "post",
    "/api/v1/prices/{price_id}/withdrawal",
    ({ id, why }: { id: string; why: string }) => ({
      params: { path: { price_id: id } },
      body: { why },
    }),
    followed(slug),
  )

export const useAddExtra = (slug: string) =>
  useChange(
    "post",
    "/api/v1/setups/{setup_id}/extras",
    ({ id, body }: { id: string; body: Schemas["NewExtra"] }) => ({
      params: { path: { setup_id: id } },
      body,
    }),
    followed(slug),
  )

export const usePreviewRefresh = (slug: string) =>
  useChange("post", "/api/v1/shootouts/{slug}/prices/preview", (_: Nothing) => at(slug), {})

export function useCommitRefresh(slug: string) {
  return useMutation({
    mutationFn: async (keys: string[]) => {
      const asked = await unwrap(
        calls.POST("/api/v1/shootouts/{slug}/prices/refresh", { ...at(slug), body: { keys } }),
      )
      return finished(asked, () => undefined)
    },
    onSuccess: () => refresh(slug),
  })
}

export const ratesQuery = (on: string) =>
  api.queryOptions("get", "/api/v1/rates", { params: { query: { on } } })

/** How the simulated feed behaves; a service of its own beside the app. */
export type Switches = { outage: boolean; slow_s: number }
const SWITCHES = "/standins/price-feed/switches"

export function useSwitches() {
  return useQuery({
    queryKey: ["feed-switches"],
    // Only the demo has it; elsewhere there is nothing to switch.
    queryFn: async (): Promise<Switches | null> => {
      const answer = await fetch(SWITCHES)
      const told = answer.headers.get("content-type") === "application/json"
      return answer.ok && told ? answer.json() : null
    },
  })
}

export function useSetSwitches() {
  return useMutation({
    mutationFn: (body: Switches) =>
      fetch(SWITCHES, {
        method: "PUT",
        headers: { "Content-Type": "application/json" },
        body: JSON.stringify(body),
      }),
    onSettled: () => queryClient.invalidateQueries({ queryKey: ["feed-switches"] }),
  })
}

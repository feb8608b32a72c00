/** The script of a shootout: checked as it is typed, kept a moment later. */
import { keepPreviousData, queryOptions, useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { queryClient, refresh } from "./queries"

const at = (slug: string) => ({ params: { path: { slug } } })

export const scriptQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "script"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/script", at(slug))),
  })

export const claimsQuery = (slug: string, text: string) =>
  queryOptions({
    queryKey: ["in", slug, "claims", text],
    queryFn: () =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/script/check", { ...at(slug), body: { text } })),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
    retry: false,
  })

export function useKeepScript(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["KeptScript"]) =>
      unwrap(api.PUT("/api/v1/shootouts/{slug}/script", { ...at(slug), body })),
    onSuccess: (kept) => {
      queryClient.setQueryData(scriptQuery(slug).queryKey, kept)
      void queryClient.invalidateQueries({ queryKey: ["sheet", slug] })
    },
  })
}

export function useSeeScript(slug: string) {
  return useMutation({
    mutationFn: (version: number) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/script/seen", { ...at(slug), body: { version } })),
    onSuccess: () => refresh(slug),
  })
}

export function useNameInScript(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NameInScript"]) =>
      unwrap(api.PUT("/api/v1/shootouts/{slug}/script/names", { ...at(slug), body })),
    onSuccess: () => refresh(slug),
  })
}

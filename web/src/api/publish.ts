/** The script of a shootout: checked as it is typed, kept a moment later. */
import { followed, useChange } from "./change"
import { api, type Schemas } from "./client"
import { at, queryClient, refreshSheet, STAYS } from "./queries"

export const scriptQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/script", at(slug))

export const claimsQuery = (slug: string, text: string) =>
  api.queryOptions(
    "post",
    "/api/v1/shootouts/{slug}/script/check",
    { ...at(slug), body: { text } },
    { ...STAYS, gcTime: 10_000, retry: false },
  )

export const useKeepScript = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/script",
    (body: Schemas["KeptScript"]) => ({ ...at(slug), body }),
    {
      onSuccess: (kept) => {
        queryClient.setQueryData(scriptQuery(slug).queryKey, kept)
        void refreshSheet(slug)
      },
    },
  )

export const useSeeScript = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/script/seen",
    (version: number) => ({ ...at(slug), body: { version } }),
    followed(slug),
  )

export const useNameInScript = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/script/names",
    (body: Schemas["NameInScript"]) => ({ ...at(slug), body }),
    followed(slug),
  )

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

const keepScriptView = (slug: string) => ({
  onSuccess: (view: Schemas["ScriptView"]) => {
    queryClient.setQueryData(scriptQuery(slug).queryKey, view)
    // What was checked while typing was read without this answer.
    void queryClient.invalidateQueries({
      queryKey: ["post", "/api/v1/shootouts/{slug}/script/check"],
    })
    void refreshSheet(slug)
  },
})

/** Keeps what a person says that a sentence means; no claims for "claims nothing", null undoes. */
export const useAnswerSentence = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/script/answers",
    (body: Schemas["SentenceAnswer"]) => ({ ...at(slug), body }),
    keepScriptView(slug),
  )

export const useForgetPhrasing = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/script/phrasings/forget",
    (pattern: string) => ({ ...at(slug), body: { pattern } }),
    keepScriptView(slug),
  )

export const useNameInScript = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/script/names",
    (body: Schemas["NameInScript"]) => ({ ...at(slug), body }),
    followed(slug),
  )

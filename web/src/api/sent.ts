/** Results that others sent in: the kit, the inbox, and what is decided about each. */
import { useMutation } from "@tanstack/react-query"
import { followed, useChange } from "./change"
import { api, calls, unwrap } from "./client"
import { at, refresh, STAYS } from "./queries"

export const sentQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/sent", at(slug), STAYS)

/** The kit as a file; the first time it gets its secret. */
export function useKit(slug: string) {
  return useMutation({
    mutationFn: async () =>
      (await unwrap(
        calls.POST("/api/v1/shootouts/{slug}/kit", { ...at(slug), parseAs: "blob" }),
      )) as unknown as Blob,
    onSuccess: () => refresh(slug),
  })
}

export const useAddSent = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/sent",
    (text: string) => ({ ...at(slug), body: { text } }),
    followed(slug),
  )

export type Decision = {
  id: string
  state: "accepted" | "declined" | "withdrawn"
  why: string
  setup_id: string | null
}

export const useDecide = (slug: string) =>
  useChange(
    "post",
    "/api/v1/sent/{sent_id}/decision",
    ({ id, ...body }: Decision) => ({ params: { path: { sent_id: id } }, body }),
    followed(slug),
  )

export const useErase = (slug: string) =>
  useChange(
    "post",
    "/api/v1/sent/{sent_id}/erasure",
    ({ id, why, code }: { id: string; why: string; code: string }) => ({
      params: { path: { sent_id: id } },
      body: { why, ...(code.trim() ? { code } : {}) },
    }),
    followed(slug),
  )

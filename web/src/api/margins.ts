/** What lies beside the ladder: pairs, rounds, fairness, findings, figures of others. */
import { keepPreviousData, queryOptions, useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { refresh } from "./queries"

const at = (slug: string) => ({ params: { path: { slug } } })
const of = (slug: string, task: string) => ({ params: { path: { slug }, query: { task } } })

export const openCallsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "open calls"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/margins/open", at(slug))),
    placeholderData: keepPreviousData,
  })

export const allPairsQuery = (slug: string, task: string) =>
  queryOptions({
    queryKey: ["in", slug, "all pairs", task],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/margins/pairs", of(slug, task))),
    placeholderData: keepPreviousData,
  })

export const roundsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "updates"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/margins/rounds", at(slug))),
    placeholderData: keepPreviousData,
  })

export const fairnessQuery = (slug: string, task: string) =>
  queryOptions({
    queryKey: ["in", slug, "fairness", task],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/margins/fairness", of(slug, task))),
    placeholderData: keepPreviousData,
  })

export const figuresQuery = (slug: string, task: string, setup: string) =>
  queryOptions({
    queryKey: ["in", slug, "figures", task, setup],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/margins/figures", {
          params: { path: { slug }, query: { task, setup } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

export const scatterQuery = (slug: string, task: string, field: string | undefined) =>
  queryOptions({
    queryKey: ["in", slug, "scatter", task, field ?? ""],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/margins/spec", {
          params: { path: { slug }, query: field === undefined ? { task } : { task, field } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

export const sameWorkQuery = (slug: string, task: string) =>
  queryOptions({
    queryKey: ["in", slug, "same work", task],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/margins/same-work", of(slug, task))),
    placeholderData: keepPreviousData,
  })

export const outOfLineQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "out of line"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/out-of-line", at(slug))),
    placeholderData: keepPreviousData,
  })

export const planQuery = (slug: string, difference: number, minutes: number | null) =>
  queryOptions({
    queryKey: ["in", slug, "plan", difference, minutes],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/margins/plan", {
          params: {
            path: { slug },
            query: minutes === null ? { difference } : { difference, minutes },
          },
        }),
      ),
    enabled: difference > 0,
    placeholderData: keepPreviousData,
  })

export const earlierQuery = (slug: string, other: string) =>
  queryOptions({
    queryKey: ["in", slug, "earlier", other],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/earlier/{other}", {
          params: { path: { slug, other } },
        }),
      ),
    enabled: other !== "",
  })

export function useOpenInquiry(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewInquiry"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/inquiries", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useChangeInquiry(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["InquiryChange"] }) =>
      unwrap(
        api.PATCH("/api/v1/inquiries/{inquiry_id}", {
          params: { path: { inquiry_id: id } },
          body,
        }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useNotePublished(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewPublishedFigure"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/published", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useWithdrawPublished(slug: string) {
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(
        api.POST("/api/v1/published/{figure_id}/withdrawal", {
          params: { path: { figure_id: id } },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useBringEarlier(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["BringEarlier"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/earlier", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useMergeRounds(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["MergeRounds"]) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/rounds/merge", { params: { path: { slug } }, body }),
      ),
    onSuccess: () => refresh(slug),
  })
}

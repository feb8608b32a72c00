/** What lies beside the ladder: pairs, rounds, fairness, findings, figures of others. */
import { followed, followedAnyway, useChange } from "./change"
import { api, type Schemas } from "./client"
import { at, onTask, STAYS } from "./queries"

export const openCallsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/margins/open", at(slug), STAYS)

export const allPairsQuery = (slug: string, task: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/margins/pairs", onTask(slug, task), STAYS)

export const updatesQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/margins/rounds", at(slug), STAYS)

export const raceQuery = (slug: string, task: string, run: string[]) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/margins/race",
    { params: { path: { slug }, query: run.length === 0 ? { task } : { task, run } } },
    STAYS,
  )

export const fairnessQuery = (slug: string, task: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/margins/fairness", onTask(slug, task), STAYS)

export const figuresQuery = (slug: string, task: string, setup: string) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/margins/figures",
    { params: { path: { slug }, query: { task, setup } } },
    STAYS,
  )

export const scatterQuery = (slug: string, task: string, field: string | undefined) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/margins/spec",
    { params: { path: { slug }, query: field === undefined ? { task } : { task, field } } },
    STAYS,
  )

export const sameWorkQuery = (slug: string, task: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/margins/same-work", onTask(slug, task), STAYS)

export const outOfLineQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/out-of-line", at(slug), STAYS)

/** What was planned before the first run, and what was done otherwise. */
export const frozenPlanQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/frozen-plan", at(slug), STAYS)

export const useFreezePlan = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/frozen-plan",
    (words: string) => ({ ...at(slug), body: words.trim() ? { words } : {} }),
    followed(slug),
  )

export const planQuery = (slug: string, difference: number, minutes: number | null) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/margins/plan",
    {
      params: {
        path: { slug },
        query: minutes === null ? { difference } : { difference, minutes },
      },
    },
    { ...STAYS, enabled: difference > 0 },
  )

export const earlierQuery = (slug: string, other: string) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/earlier/{other}",
    { params: { path: { slug, other } } },
    { enabled: other !== "" },
  )

export const useOpenInquiry = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/inquiries",
    (body: Schemas["NewInquiry"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useAddStep = (slug: string) =>
  useChange(
    "post",
    "/api/v1/inquiries/{inquiry_id}/steps",
    ({ id, body }: { id: string; body: Schemas["NewStep"] }) => ({
      params: { path: { inquiry_id: id } },
      body,
    }),
    followedAnyway(slug),
  )

export const useNotePublished = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/published",
    (body: Schemas["NewPublishedFigure"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useWithdrawPublished = (slug: string) =>
  useChange(
    "post",
    "/api/v1/published/{figure_id}/withdrawal",
    (figure_id: string) => ({ params: { path: { figure_id } } }),
    followed(slug),
  )

export const useBringEarlier = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/earlier",
    (body: Schemas["BringEarlier"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useMergeRounds = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/rounds/merge",
    (body: Schemas["MergeRounds"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useNoteRatio = (slug: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/ratios",
    ({ task, ...body }: Schemas["NewRatio"] & { task: string }) => ({
      params: { path: { task_id: task } },
      body,
    }),
    followed(slug),
  )

export const useWithdrawRatio = (slug: string) =>
  useChange(
    "post",
    "/api/v1/ratios/{ratio_id}/withdrawal",
    ({ id, why }: { id: string; why: string }) => ({
      params: { path: { ratio_id: id } },
      body: { why },
    }),
    followed(slug),
  )

/** What persons say of the sameness of work. */
import { followed, useChange } from "./change"
import type { Schemas } from "./client"

export const useJudge = (slug: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/judgements",
    ({ taskId, ...body }: Schemas["NewJudgement"] & { taskId: string }) => ({
      params: { path: { task_id: taskId } },
      body,
    }),
    followed(slug),
  )

export const useWithdrawJudgement = (slug: string) =>
  useChange(
    "post",
    "/api/v1/judgements/{judgement_id}/withdrawal",
    ({ id, why }: { id: string; why: string }) => ({
      params: { path: { judgement_id: id } },
      body: { why },
    }),
    followed(slug),
  )

/** Changes of runs that are in the book already. */
import { followed, followedAnyway, useChange } from "./change"
import { useSendFile } from "./changes"
import type { Schemas } from "./client"
import { at } from "./queries"

export type RunRef = Schemas["RunRef"]

export const useReviseMany = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/runs/changes",
    (body: Schemas["ManyRuns"]) => ({ ...at(slug), body }),
    followedAnyway(slug),
  )

export const useTakeBack = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/runs/undo",
    (runs: RunRef[]) => ({ ...at(slug), body: { runs } }),
    followedAnyway(slug),
  )

export const useAttachPicture = (slug: string, runId: string) =>
  useSendFile<File, Schemas["RunDetail"]>(slug, (file) => ({
    address: `/api/v1/runs/${runId}/pictures`,
    file,
  }))

export const useAttachProbe = (slug: string, run: Schemas["Run"]) =>
  useSendFile<File, Schemas["Sameness"]>(slug, (file) => ({
    address: `/api/v1/tasks/${run.task_id}/outputs`,
    file,
    fields: { setup_id: run.setup_id, run_id: run.id },
  }))

export const useNoteReading = (slug: string, run_id: string) =>
  useChange(
    "post",
    "/api/v1/runs/{run_id}/readings",
    (body: Schemas["NewReading"]) => ({ params: { path: { run_id } }, body }),
    followed(slug),
  )

export const usePutMarkRight = (slug: string) =>
  useChange(
    "post",
    "/api/v1/marks/{mark_id}/withdrawal",
    ({ id, ...body }: Schemas["MarkPutRight"] & { id: string }) => ({
      params: { path: { mark_id: id } },
      body,
    }),
    followed(slug),
  )

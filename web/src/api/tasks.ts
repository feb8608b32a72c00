/** Tasks: what their forms offer, and whether every setup did the same job. */
import { followed, useChange } from "./change"
import { useSendFile } from "./changes"
import { api, type Schemas } from "./client"
import { queryClient } from "./queries"

const of = (task_id: string) => ({ params: { path: { task_id } } })

export const taskWordsQuery = api.queryOptions("get", "/api/v1/task-words")

export const samenessQuery = (task_id: string) =>
  api.queryOptions("get", "/api/v1/tasks/{task_id}/sameness", of(task_id))

export const useCopyTask = (slug: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/copies",
    ({ taskId, app }: { taskId: string; app: string }) => ({ ...of(taskId), body: { app } }),
    followed(slug),
  )

export const useChangeMeasure = (slug: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/measure",
    ({ taskId, ...body }: Schemas["NewMeasure"] & { taskId: string }) => ({
      ...of(taskId),
      body,
    }),
    followed(slug),
  )

export const useKeepPreset = () =>
  useChange("post", "/api/v1/presets", (body: Schemas["NewPreset"]) => ({ body }), {
    onSuccess: (words) => queryClient.setQueryData(taskWordsQuery.queryKey, words),
  })

export const useNoteSettings = (slug: string, task_id: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/settings-used",
    (body: Schemas["NewSettingsUsed"]) => ({ ...of(task_id), body }),
    followed(slug),
  )

export const useNoteLook = (slug: string, task_id: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/looks",
    (body: Schemas["NewOutputLook"]) => ({ ...of(task_id), body }),
    followed(slug),
  )

export const useNotePlayback = (slug: string, task_id: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/playback",
    (body: Schemas["SeenPlayback"]) => ({ ...of(task_id), body }),
    followed(slug),
  )

export const useAddOutput = (slug: string, taskId: string) =>
  useSendFile<{ file: File; setupId: string; runId: string; really: boolean }, Schemas["Sameness"]>(
    slug,
    ({ file, setupId, runId, really }) => ({
      address: `/api/v1/tasks/${taskId}/outputs`,
      file,
      fields: { setup_id: setupId, run_id: runId, really: String(really) },
    }),
  )

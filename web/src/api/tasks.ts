/** Tasks: what their forms offer, and whether every setup did the same job. */
import { queryOptions, useMutation } from "@tanstack/react-query"
import { postForm } from "./changes"
import { api, type Schemas, unwrap } from "./client"
import { queryClient, refresh } from "./queries"

export const taskWordsQuery = queryOptions({
  queryKey: ["task-words"],
  queryFn: () => unwrap(api.GET("/api/v1/task-words", {})),
})

export const samenessQuery = (slug: string, task_id: string) =>
  queryOptions({
    queryKey: ["in", slug, "sameness", task_id],
    queryFn: () =>
      unwrap(api.GET("/api/v1/tasks/{task_id}/sameness", { params: { path: { task_id } } })),
  })

export function useKeepPreset() {
  return useMutation({
    mutationFn: (body: Schemas["NewPreset"]) => unwrap(api.POST("/api/v1/presets", { body })),
    onSuccess: (words) => queryClient.setQueryData(taskWordsQuery.queryKey, words),
  })
}

export function useNoteSettings(slug: string, task_id: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewSettingsUsed"]) =>
      unwrap(
        api.POST("/api/v1/tasks/{task_id}/settings-used", { params: { path: { task_id } }, body }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useNoteLook(slug: string, task_id: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewOutputLook"]) =>
      unwrap(api.POST("/api/v1/tasks/{task_id}/looks", { params: { path: { task_id } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useNotePlayback(slug: string, task_id: string) {
  return useMutation({
    mutationFn: (body: Schemas["SeenPlayback"]) =>
      unwrap(api.POST("/api/v1/tasks/{task_id}/playback", { params: { path: { task_id } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useAddOutput(slug: string, taskId: string) {
  return useMutation({
    mutationFn: (given: { file: File; setupId: string; runId: string; really: boolean }) => {
      const form = new FormData()
      form.append("file", given.file)
      form.append("setup_id", given.setupId)
      if (given.runId) form.append("run_id", given.runId)
      form.append("really", String(given.really))
      return postForm<Schemas["Sameness"]>(`/api/v1/tasks/${taskId}/outputs`, form)
    },
    onSuccess: () => refresh(slug),
  })
}

/** Changes of runs that are in the book already. */
import { useMutation } from "@tanstack/react-query"
import { postForm } from "./changes"
import { api, type Schemas, unwrap } from "./client"
import { refresh } from "./queries"

export type RunRef = Schemas["RunRef"]

export function useReviseMany(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["ManyRuns"]) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/runs/changes", { params: { path: { slug } }, body }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useTakeBack(slug: string) {
  return useMutation({
    mutationFn: (runs: RunRef[]) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/runs/undo", {
          params: { path: { slug } },
          body: { runs },
        }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useAttachPicture(slug: string, runId: string) {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData()
      form.append("file", file)
      return postForm<Schemas["RunDetail"]>(`/api/v1/runs/${runId}/pictures`, form)
    },
    onSuccess: () => refresh(slug),
  })
}

export function useAttachProbe(slug: string, run: Schemas["Run"]) {
  return useMutation({
    mutationFn: (file: File) => {
      const form = new FormData()
      form.append("file", file)
      form.append("setup_id", run.setup_id)
      form.append("run_id", run.id)
      return postForm<Schemas["Sameness"]>(`/api/v1/tasks/${run.task_id}/outputs`, form)
    },
    onSuccess: () => refresh(slug),
  })
}

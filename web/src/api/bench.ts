/** What is asked and changed on the bench beside the lanes themselves. */
import { keepPreviousData, queryOptions, useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { queryClient, refresh } from "./queries"

export const observationsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "observations"],
    queryFn: () =>
      unwrap(api.GET("/api/v1/shootouts/{slug}/observations", { params: { path: { slug } } })),
  })

/** What may be said of a lane's run; asked again with every change of the book. */
export const saidQuery = (slug: string, client_key: string, on: boolean) =>
  queryOptions({
    queryKey: ["in", slug, "said", client_key],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/bench/said/{client_key}", {
          params: { path: { slug, client_key } },
        }),
      ),
    enabled: on,
    retry: false,
    placeholderData: keepPreviousData,
  })

export const devicesQuery = (slug: string) =>
  queryOptions({
    queryKey: ["devices", slug],
    queryFn: () =>
      unwrap(api.GET("/api/v1/shootouts/{slug}/devices", { params: { path: { slug } } })),
    // A device that was just paired shows up without being asked for.
    refetchInterval: (query) => (query.state.error ? false : 4000),
    retry: false,
  })

export function useMakeCode(slug: string) {
  return useMutation({
    mutationFn: () =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/devices/code", { params: { path: { slug } } })),
  })
}

export function useRevoke(slug: string) {
  return useMutation({
    mutationFn: (device_id: string) =>
      unwrap(
        api.POST("/api/v1/devices/{device_id}/revocation", { params: { path: { device_id } } }),
      ),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ["devices", slug] }),
  })
}

export function useBringInLog(slug: string) {
  return useMutation({
    mutationFn: async (file: File) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/bench/log", {
          params: { path: { slug } },
          body: { text: await file.text() },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function usePutRigs(slug: string) {
  return useMutation({
    mutationFn: (factor: number) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/bench/rigs", {
          params: { path: { slug } },
          body: { factor },
        }),
      ),
  })
}

export function useNoteTrial(slug: string) {
  return useMutation({
    mutationFn: ({ taskId, body }: { taskId: string; body: Schemas["SeenTrial"] }) =>
      unwrap(
        api.POST("/api/v1/tasks/{task_id}/trials", {
          params: { path: { task_id: taskId } },
          body,
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useNoteTrouble(slug: string) {
  return useMutation({
    mutationFn: ({ taskId, body }: { taskId: string; body: Schemas["SeenTrouble"] }) =>
      unwrap(
        api.POST("/api/v1/tasks/{task_id}/troubles", {
          params: { path: { task_id: taskId } },
          body,
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

/** What is asked and changed on the bench beside the lanes themselves. */
import { useMutation } from "@tanstack/react-query"
import { followed, type Nothing, useChange } from "./change"
import { useSendFile } from "./changes"
import { api, calls, type Schemas, unwrap } from "./client"
import { at, queryClient, refresh, STAYS } from "./queries"

export const observationsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/observations", at(slug))

export const logQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/log", at(slug), STAYS)

export const useWithdrawLogged = (slug: string, kind: "trials" | "troubles") =>
  useMutation({
    mutationFn: async ({ id, why }: { id: string; why: string }) =>
      kind === "trials"
        ? unwrap(
            calls.POST("/api/v1/trials/{trial_id}/withdrawal", {
              params: { path: { trial_id: id } },
              body: { why },
            }),
          )
        : unwrap(
            calls.POST("/api/v1/troubles/{trouble_id}/withdrawal", {
              params: { path: { trouble_id: id } },
              body: { why },
            }),
          ),
    onSuccess: () => refresh(slug),
  })

/** What may be said of a lane's run; asked again with every change of the book. */
export const saidQuery = (slug: string, client_key: string, on: boolean) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/bench/said/{client_key}",
    { params: { path: { slug, client_key } } },
    { ...STAYS, enabled: on, retry: false },
  )

export const devicesQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/devices", at(slug), {
    // A device that was just paired shows up without being asked for.
    refetchInterval: (query) => (query.state.error ? false : 4000),
    retry: false,
  })

export const useMakeCode = (slug: string) =>
  useChange("post", "/api/v1/shootouts/{slug}/devices/code", (_: Nothing) => at(slug), {})

/** Pairs one more device and gives the watcher that knows its bench, as a file. */
export function useWatcherFile(slug: string) {
  return useMutation({
    mutationFn: async (name: string) =>
      (await unwrap(
        calls.POST("/api/v1/shootouts/{slug}/devices/watcher", {
          ...at(slug),
          body: { name },
          parseAs: "blob",
        }),
      )) as unknown as Blob,
    onSuccess: () => queryClient.invalidateQueries({ queryKey: devicesQuery(slug).queryKey }),
  })
}

export const useRevoke = (slug: string) =>
  useChange(
    "post",
    "/api/v1/devices/{device_id}/revocation",
    (device_id: string) => ({ params: { path: { device_id } } }),
    {
      onSuccess: () => queryClient.invalidateQueries({ queryKey: devicesQuery(slug).queryKey }),
    },
  )

export function useBringInLog(slug: string) {
  return useMutation({
    mutationFn: async (file: File) =>
      unwrap(
        calls.POST("/api/v1/shootouts/{slug}/bench/log", {
          ...at(slug),
          body: { text: await file.text() },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export const usePutRigs = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/bench/rigs",
    (factor: number) => ({ ...at(slug), body: { factor } }),
    {},
  )

export const useNoteTrial = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/trials",
    (body: Schemas["SeenTrial"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useNoteTrouble = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/troubles",
    (body: Schemas["SeenTrouble"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const usePictureEntry = (slug: string, kind: "trials" | "troubles", id: string) =>
  useSendFile<File, Schemas["Observations"]>(slug, (file) => ({
    address: `/api/v1/${kind}/${id}/pictures`,
    file,
    fields: {},
  }))

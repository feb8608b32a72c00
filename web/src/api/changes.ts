/** Everything that writes; each change refreshes what is shown of the shootout. */
import { useMutation } from "@tanstack/react-query"
import { announce } from "../reach/announce"
import { followed, followedAnyway, useChange } from "./change"
import { calls, postForm, type Schemas, unwrap } from "./client"
import { finished, type Job } from "./jobs"
import { at, queryClient, refresh, refreshShelf, shootoutQuery } from "./queries"

const ofMachine = (machine_id: string) => ({ params: { path: { machine_id } } })

export const useMakeShootout = () =>
  useChange("post", "/api/v1/shootouts", (body: Schemas["NewShootout"]) => ({ body }), {
    onSuccess: refreshShelf,
  })

export const useChangeShootout = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/shootouts/{slug}",
    (body: Schemas["ShootoutChange"]) => ({ ...at(slug), body }),
    followedAnyway(slug),
  )

/**
 * Sets what every figure follows: baseline, confidence, materiality. One after the other, each
 * on the shootout as it stands by then, so that two quick picks do not meet as two people's.
 */
export function useSetShootout(slug: string) {
  return useMutation({
    scope: { id: `settings of ${slug}` },
    mutationFn: async (changes: Omit<Schemas["ShootoutChange"], "version">) => {
      const known = queryClient.getQueryData<Schemas["Shootout"]>(shootoutQuery(slug).queryKey)
      const { version } = known ?? (await unwrap(calls.GET("/api/v1/shootouts/{slug}", at(slug))))
      return unwrap(
        calls.PATCH("/api/v1/shootouts/{slug}", { ...at(slug), body: { ...changes, version } }),
      )
    },
    onSuccess: (kept) => queryClient.setQueryData(shootoutQuery(slug).queryKey, kept),
    // Not waited for: the next pick need not wait until everything is read again.
    onSettled: () => void refresh(slug),
  })
}

export const useArchiveShootout = () =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/archive",
    ({ slug, archived }: { slug: string; archived: boolean }) => ({
      ...at(slug),
      body: { archived },
    }),
    { onSuccess: refreshShelf },
  )

export const useAddMachine = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/machines",
    (body: Schemas["NewMachine"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useChangeMachine = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/machines/{machine_id}",
    ({ id, body }: { id: string; body: Schemas["MachineChange"] }) => ({ ...ofMachine(id), body }),
    followedAnyway(slug),
  )

export const useAddSetup = (slug: string) =>
  useChange(
    "post",
    "/api/v1/machines/{machine_id}/setups",
    ({ id, body }: { id: string; body: Schemas["NewSetup"] }) => ({ ...ofMachine(id), body }),
    followed(slug),
  )

export const useChangeSetup = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/setups/{setup_id}",
    ({ id, body }: { id: string; body: Schemas["SetupChange"] }) => ({
      params: { path: { setup_id: id } },
      body,
    }),
    followedAnyway(slug),
  )

export const useOrderMachines = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/lineup/order",
    (machine_ids: string[]) => ({ ...at(slug), body: { machine_ids } }),
    followedAnyway(slug),
  )

export const useRetireMachine = (slug: string) =>
  useChange(
    "post",
    "/api/v1/machines/{machine_id}/retirement",
    ({ id, retired }: { id: string; retired: boolean }) => ({
      ...ofMachine(id),
      body: { retired },
    }),
    followed(slug),
  )

export const useArchiveMachine = (slug: string) =>
  useChange(
    "post",
    "/api/v1/machines/{machine_id}/archive",
    ({ id, archived }: { id: string; archived: boolean }) => ({
      ...ofMachine(id),
      body: { archived },
    }),
    followed(slug),
  )

export const useAddFreeRow = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/free-rows",
    (body: Schemas["NewFreeRow"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useRenameFreeRow = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/free-rows/{row_id}",
    ({ id, title }: { id: string; title: string }) => ({
      params: { path: { row_id: id } },
      body: { title },
    }),
    followed(slug),
  )

export const useRemoveFreeRow = (slug: string) =>
  useChange(
    "post",
    "/api/v1/free-rows/{row_id}/removal",
    (row_id: string) => ({ params: { path: { row_id } } }),
    followed(slug),
  )

export const usePutOnTrial = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/rows/{field}/trial",
    ({ field, on_trial }: { field: string; on_trial: boolean }) => ({
      params: { path: { slug, field } },
      body: { on_trial },
    }),
    followed(slug),
  )

export const usePreviewSpecs = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/specs/preview",
    (text: string) => ({ ...at(slug), body: { text } }),
    {},
  )

export const useCommitSpecs = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/specs",
    (text: string) => ({ ...at(slug), body: { text } }),
    followed(slug),
  )

export const useAddTask = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/tasks",
    (body: Schemas["NewTask"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useChangeTask = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/tasks/{task_id}",
    ({ id, body }: { id: string; body: Schemas["TaskChange"] }) => ({
      params: { path: { task_id: id } },
      body,
    }),
    // Not waited for: what follows on the answer must not overtake the person's next click.
    { onSettled: () => void refresh(slug) },
  )

export const useChangeRound = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/rounds/{round_id}",
    ({ id, body }: { id: string; body: Schemas["RoundChange"] }) => ({
      params: { path: { round_id: id } },
      body,
    }),
    followed(slug),
  )

export const useOrderRounds = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/rounds/order",
    (round_ids: string[]) => ({ ...at(slug), body: { round_ids } }),
    followed(slug),
  )

export const useAddRound = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/rounds",
    (body: Schemas["NewRound"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const useOverrule = (slug: string) =>
  useChange(
    "post",
    "/api/v1/tasks/{task_id}/overrules",
    ({ taskId, ...body }: Schemas["NewOverrule"] & { taskId: string }) => ({
      params: { path: { task_id: taskId } },
      body,
    }),
    followed(slug),
  )

export const useWithdraw = (slug: string) =>
  useChange(
    "post",
    "/api/v1/overrules/{overrule_id}/withdrawal",
    (overrule_id: string) => ({ params: { path: { overrule_id } } }),
    followed(slug),
  )

export const addRun = (slug: string, body: Schemas["NewRun"]): Promise<Schemas["StoredRun"]> =>
  unwrap(calls.POST("/api/v1/shootouts/{slug}/runs", { ...at(slug), body }))

export const useAddRun = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/runs",
    (body: Schemas["NewRun"]) => ({ ...at(slug), body }),
    followed(slug),
  )

export const addMarks = (
  run_id: string,
  marks: Schemas["NewMarks"]["marks"],
): Promise<Schemas["RunDetail"]> =>
  unwrap(
    calls.POST("/api/v1/runs/{run_id}/marks", { params: { path: { run_id } }, body: { marks } }),
  )

export const reviseRun = (
  run_id: string,
  body: Schemas["RunChange"],
): Promise<Schemas["StoredRun"]> =>
  unwrap(calls.PATCH("/api/v1/runs/{run_id}", { params: { path: { run_id } }, body }))

export const useReviseRun = (slug: string) =>
  useChange(
    "patch",
    "/api/v1/runs/{run_id}",
    ({ id, body }: { id: string; body: Schemas["RunChange"] }) => ({
      params: { path: { run_id: id } },
      body,
    }),
    followedAnyway(slug),
  )

export const usePreviewImport = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/imports/preview",
    (body: Schemas["SheetText"]) => ({ ...at(slug), body }),
    {},
  )

export const usePreviewNotes = () =>
  useChange("post", "/api/v1/notes/preview", (body: Schemas["SheetText"]) => ({ body }), {})

export const useStoreImport = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/imports",
    (body: Schemas["SheetText"]) => ({ ...at(slug), body }),
    followed(slug),
  )

/** Takes back all that came with a sheet. */
export const useTakeSheetBack = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/imports/undo",
    (body: Schemas["SheetMade"]) => ({ ...at(slug), body }),
    followedAnyway(slug),
  )

export const useStartFromNotes = () =>
  useChange("post", "/api/v1/notes", (body: Schemas["NewFromSheet"]) => ({ body }), {
    onSuccess: refreshShelf,
  })

/** A form with one file. */
function formOf(file: File, fields: Record<string, string> = {}): FormData {
  const form = new FormData()
  form.append("file", file)
  for (const [name, value] of Object.entries(fields)) if (value) form.append(name, value)
  return form
}

/** Brings a data pack in as a new shootout; gives the name in its address. */
export async function importPack(file: File, told: (job: Job) => void): Promise<string> {
  const made = await finished(await postForm<Job>("/api/v1/packs", formOf(file)), told)
  await refreshShelf()
  return made.slug ?? ""
}

/** Says what a pack would do; nothing is stored. */
export const previewPack = (file: File) =>
  postForm<Schemas["PackPreview"]>("/api/v1/packs/preview", formOf(file))

/** Takes over what a pack has beyond the shootout that it was held against. */
export async function updateFromPack(
  file: File,
  preview: Schemas["PackPreview"],
  told: (job: Job) => void,
): Promise<string> {
  const address = `/api/v1/shootouts/${preview.slug}/pack?revision=${preview.revision}`
  const made = await finished(await postForm<Job>(address, formOf(file)), told)
  await queryClient.invalidateQueries()
  return made.slug ?? ""
}

/** A change that sends a file. */
export function useSendFile<Given, Answer>(
  slug: string,
  sent: (given: Given) => { address: string; file: File; fields?: Record<string, string> },
) {
  return useMutation({
    mutationFn: (given: Given) => {
      const { address, file, fields } = sent(given)
      return postForm<Answer>(address, formOf(file, fields))
    },
    onSuccess: () => {
      announce("File added.")
      return refresh(slug)
    },
  })
}

/** Keeps a file of a timeline, as saved on a setup, or as the reviewer keeps it. */
export const useAddTimelineFile = (slug: string, timelineId: string) =>
  useSendFile<{ file: File; setupId: string; rate: string }, Schemas["TimelineSheet"]>(
    slug,
    ({ file, setupId, rate }) => ({
      address: `/api/v1/timelines/${timelineId}/files`,
      file,
      fields: { setup_id: setupId, edl_rate: rate.replace(",", ".") },
    }),
  )

/** A key that lets a repeated request store nothing twice. */
export function clientKey(): string {
  return `web-${crypto.randomUUID()}`
}

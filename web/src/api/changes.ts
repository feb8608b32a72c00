/** Everything that writes; each change refreshes what is shown of the shootout. */
import { useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { finished, type Job } from "./jobs"
import { queryClient, refresh, shootoutQuery } from "./queries"

export function useMakeShootout() {
  return useMutation({
    mutationFn: (body: Schemas["NewShootout"]) => unwrap(api.POST("/api/v1/shootouts", { body })),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ["shootouts"] }),
  })
}

export function useChangeShootout(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["ShootoutChange"]) =>
      unwrap(api.PATCH("/api/v1/shootouts/{slug}", { params: { path: { slug } }, body })),
    onSettled: () => refresh(slug),
  })
}

/**
 * Sets what every figure follows: baseline, confidence, materiality. One after the other, each
 * on the shootout as it stands by then, so that two quick picks do not meet as two people's.
 */
export function useSetShootout(slug: string) {
  return useMutation({
    scope: { id: `settings of ${slug}` },
    mutationFn: async (changes: Omit<Schemas["ShootoutChange"], "version">) => {
      const { version } = await queryClient.ensureQueryData(shootoutQuery(slug))
      return unwrap(
        api.PATCH("/api/v1/shootouts/{slug}", {
          params: { path: { slug } },
          body: { ...changes, version },
        }),
      )
    },
    onSuccess: (kept) => queryClient.setQueryData(shootoutQuery(slug).queryKey, kept),
    // Not waited for: the next pick need not wait until everything is read again.
    onSettled: () => void refresh(slug),
  })
}

export function useArchiveShootout() {
  return useMutation({
    mutationFn: ({ slug, archived }: { slug: string; archived: boolean }) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/archive", {
          params: { path: { slug } },
          body: { archived },
        }),
      ),
    onSuccess: () => queryClient.invalidateQueries({ queryKey: ["shootouts"] }),
  })
}

export function useAddMachine(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewMachine"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/machines", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useChangeMachine(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["MachineChange"] }) =>
      unwrap(
        api.PATCH("/api/v1/machines/{machine_id}", { params: { path: { machine_id: id } }, body }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useAddSetup(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["NewSetup"] }) =>
      unwrap(
        api.POST("/api/v1/machines/{machine_id}/setups", {
          params: { path: { machine_id: id } },
          body,
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useChangeSetup(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["SetupChange"] }) =>
      unwrap(api.PATCH("/api/v1/setups/{setup_id}", { params: { path: { setup_id: id } }, body })),
    onSettled: () => refresh(slug),
  })
}

export function useOrderMachines(slug: string) {
  return useMutation({
    mutationFn: (machine_ids: string[]) =>
      unwrap(
        api.PUT("/api/v1/shootouts/{slug}/lineup/order", {
          params: { path: { slug } },
          body: { machine_ids },
        }),
      ),
    onSettled: () => refresh(slug),
  })
}

export function useRetireMachine(slug: string) {
  return useMutation({
    mutationFn: ({ id, retired }: { id: string; retired: boolean }) =>
      unwrap(
        api.POST("/api/v1/machines/{machine_id}/retirement", {
          params: { path: { machine_id: id } },
          body: { retired },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useArchiveMachine(slug: string) {
  return useMutation({
    mutationFn: ({ id, archived }: { id: string; archived: boolean }) =>
      unwrap(
        api.POST("/api/v1/machines/{machine_id}/archive", {
          params: { path: { machine_id: id } },
          body: { archived },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useAddFreeRow(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewFreeRow"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/free-rows", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useRenameFreeRow(slug: string) {
  return useMutation({
    mutationFn: ({ id, title }: { id: string; title: string }) =>
      unwrap(
        api.PATCH("/api/v1/free-rows/{row_id}", {
          params: { path: { row_id: id } },
          body: { title },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useRemoveFreeRow(slug: string) {
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(api.POST("/api/v1/free-rows/{row_id}/removal", { params: { path: { row_id: id } } })),
    onSuccess: () => refresh(slug),
  })
}

export function usePutOnTrial(slug: string) {
  return useMutation({
    mutationFn: ({ field, on_trial }: { field: string; on_trial: boolean }) =>
      unwrap(
        api.PUT("/api/v1/shootouts/{slug}/rows/{field}/trial", {
          params: { path: { slug, field } },
          body: { on_trial },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function usePreviewSpecs(slug: string) {
  return useMutation({
    mutationFn: (text: string) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/specs/preview", {
          params: { path: { slug } },
          body: { text },
        }),
      ),
  })
}

export function useCommitSpecs(slug: string) {
  return useMutation({
    mutationFn: (text: string) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/specs", { params: { path: { slug } }, body: { text } }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useAddTask(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewTask"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/tasks", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useChangeTask(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["TaskChange"] }) =>
      unwrap(api.PATCH("/api/v1/tasks/{task_id}", { params: { path: { task_id: id } }, body })),
    // Not waited for: what follows on the answer must not overtake the person's next click.
    onSettled: () => {
      void refresh(slug)
    },
  })
}

export function useAddRound(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewRound"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/rounds", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

export function useOverrule(slug: string) {
  return useMutation({
    mutationFn: ({ taskId, ...body }: Schemas["NewOverrule"] & { taskId: string }) =>
      unwrap(
        api.POST("/api/v1/tasks/{task_id}/overrules", {
          params: { path: { task_id: taskId } },
          body,
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function useWithdraw(slug: string) {
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(
        api.POST("/api/v1/overrules/{overrule_id}/withdrawal", {
          params: { path: { overrule_id: id } },
        }),
      ),
    onSuccess: () => refresh(slug),
  })
}

export function addRun(slug: string, body: Schemas["NewRun"]): Promise<Schemas["StoredRun"]> {
  return unwrap(api.POST("/api/v1/shootouts/{slug}/runs", { params: { path: { slug } }, body }))
}

export function useAddRun(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["NewRun"]) => addRun(slug, body),
    onSuccess: () => refresh(slug),
  })
}

export function addMarks(
  run_id: string,
  marks: Schemas["NewMarks"]["marks"],
): Promise<Schemas["RunDetail"]> {
  return unwrap(
    api.POST("/api/v1/runs/{run_id}/marks", { params: { path: { run_id } }, body: { marks } }),
  )
}

export function reviseRun(id: string, body: Schemas["RunChange"]): Promise<Schemas["StoredRun"]> {
  return unwrap(api.PATCH("/api/v1/runs/{run_id}", { params: { path: { run_id: id } }, body }))
}

export function useReviseRun(slug: string) {
  return useMutation({
    mutationFn: ({ id, body }: { id: string; body: Schemas["RunChange"] }) => reviseRun(id, body),
    onSettled: () => refresh(slug),
  })
}

export function usePreviewImport(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["TableText"]) =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/imports/preview", { params: { path: { slug } }, body }),
      ),
  })
}

export function useCommitImport(slug: string) {
  return useMutation({
    mutationFn: (body: Schemas["TableText"]) =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/imports", { params: { path: { slug } }, body })),
    onSuccess: () => refresh(slug),
  })
}

/** Sends a form with a file; the generated client knows JSON only. */
export async function postForm<Answer>(address: string, form: FormData): Promise<Answer> {
  return unwrap<Answer>(
    fetch(address, { method: "POST", body: form }).then(async (response) => {
      const body: unknown = await response.json()
      return response.ok ? { data: body as Answer, response } : { error: body, response }
    }),
  )
}

/** Brings a data pack in as a new shootout; gives the name in its address. */
export async function importPack(file: File, told: (job: Job) => void): Promise<string> {
  const form = new FormData()
  form.append("file", file)
  const made = await finished(await postForm<Job>("/api/v1/packs", form), told)
  await queryClient.invalidateQueries({ queryKey: ["shootouts"] })
  return made.slug ?? ""
}

/** Says what a pack would do; nothing is stored. */
export function previewPack(file: File): Promise<Schemas["PackPreview"]> {
  const form = new FormData()
  form.append("file", file)
  return postForm<Schemas["PackPreview"]>("/api/v1/packs/preview", form)
}

/** Takes over what a pack has beyond the shootout that it was held against. */
export async function updateFromPack(
  file: File,
  preview: Schemas["PackPreview"],
  told: (job: Job) => void,
): Promise<string> {
  const form = new FormData()
  form.append("file", file)
  const address = `/api/v1/shootouts/${preview.slug}/pack?revision=${preview.revision}`
  const made = await finished(await postForm<Job>(address, form), told)
  await queryClient.invalidateQueries()
  return made.slug ?? ""
}

/** Keeps a file of a timeline, as saved on a setup, or as the reviewer keeps it. */
export function useAddTimelineFile(slug: string, timelineId: string) {
  return useMutation({
    mutationFn: ({ file, setupId, rate }: { file: File; setupId: string; rate: string }) => {
      const form = new FormData()
      form.append("file", file)
      if (setupId) form.append("setup_id", setupId)
      if (rate) form.append("edl_rate", rate.replace(",", "."))
      const address = `/api/v1/timelines/${timelineId}/files`
      return postForm<Schemas["TimelineSheet"]>(address, form)
    },
    onSuccess: () => refresh(slug),
  })
}

/** A key that lets a repeated request store nothing twice. */
export function clientKey(): string {
  return `web-${crypto.randomUUID()}`
}

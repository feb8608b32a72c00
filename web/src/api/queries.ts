import { keepPreviousData, QueryClient, queryOptions } from "@tanstack/react-query"
import { api, ProblemError, type Schemas, unwrap } from "./client"

export const queryClient = new QueryClient({
  defaultOptions: {
    queries: {
      staleTime: 30_000,
      // What the server refuses it will refuse again; only silence is worth another try.
      retry: (tries, error) => tries < 2 && isAway(error),
      refetchOnWindowFocus: true,
    },
  },
})

/** No answer from the server, or none from its database: later there may be one. */
export function isAway(error: unknown): boolean {
  return error instanceof ProblemError && [0, 503].includes(error.problem.status)
}

const at = (slug: string) => ({ params: { path: { slug } } })

export const shootoutsQuery = () =>
  queryOptions({ queryKey: ["shootouts"], queryFn: () => unwrap(api.GET("/api/v1/shootouts")) })

export const archiveQuery = queryOptions({
  queryKey: ["shootouts", "archive"],
  queryFn: () => unwrap(api.GET("/api/v1/shootouts", { params: { query: { archived: true } } })),
})

export const shootoutQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "shootout"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}", at(slug))),
  })

/** The run sheet; asked for again every few seconds, so that two tabs agree. */
export const sheetQuery = (slug: string) =>
  queryOptions({
    queryKey: ["sheet", slug],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/sheet", at(slug))),
    refetchInterval: 4000,
  })

export const lineupQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "lineup"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/lineup", at(slug))),
  })

export const tasksQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "tasks"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/tasks", at(slug))),
  })

export const roundsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "rounds"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/rounds", at(slug))),
  })

export const benchQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "bench"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/bench", at(slug))),
  })

export const runsQuery = (slug: string) =>
  queryOptions({
    queryKey: ["in", slug, "runs"],
    queryFn: () => unwrap(api.GET("/api/v1/shootouts/{slug}/runs", at(slug))),
  })

export const runQuery = (slug: string, run_id: string) =>
  queryOptions({
    queryKey: ["in", slug, "run", run_id],
    queryFn: () => unwrap(api.GET("/api/v1/runs/{run_id}", { params: { path: { run_id } } })),
  })

export const ladderQuery = (slug: string, task: string | undefined) =>
  queryOptions({
    queryKey: ["in", slug, "ladder", task ?? ""],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/margins", {
          params: { path: { slug }, query: task === undefined ? {} : { task } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

export const pairQuery = (slug: string, task: string, a: string, b: string) =>
  queryOptions({
    queryKey: ["in", slug, "pair", task, a, b],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/margins/pair", {
          params: { path: { slug }, query: { a, b, task } },
        }),
      ),
    placeholderData: keepPreviousData,
  })

export const entryQuery = (slug: string, line: string) =>
  queryOptions({
    queryKey: ["in", slug, "entry", line],
    queryFn: () =>
      unwrap(api.POST("/api/v1/shootouts/{slug}/entry", { ...at(slug), body: { line } })),
    placeholderData: keepPreviousData,
    gcTime: 10_000,
  })

/** Marks everything of a shootout as changed: figures follow every edit. */
export function refresh(slug: string): Promise<unknown> {
  return Promise.all([
    queryClient.invalidateQueries({ queryKey: ["in", slug] }),
    queryClient.invalidateQueries({ queryKey: ["sheet", slug] }),
    queryClient.invalidateQueries({ queryKey: ["shootouts"] }),
  ])
}

export const sittingQuery = (slug: string, minutes: number | null, change_over: number) =>
  queryOptions({
    queryKey: ["in", slug, "sitting", minutes, change_over],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/shootouts/{slug}/sitting", {
          params: { path: { slug }, query: { minutes: minutes ?? 0, change_over } },
        }),
      ),
    enabled: minutes !== null,
    placeholderData: keepPreviousData,
  })

export const paceQuery = (slug: string, task_id: string, marks: Schemas["RunningMarks"]["marks"]) =>
  queryOptions({
    queryKey: ["in", slug, "pace", task_id, marks],
    queryFn: () =>
      unwrap(
        api.POST("/api/v1/shootouts/{slug}/bench/pace", { ...at(slug), body: { task_id, marks } }),
      ),
    enabled: marks.length > 0,
    placeholderData: keepPreviousData,
  })

export const timelineQuery = (slug: string, timeline_id: string) =>
  queryOptions({
    queryKey: ["in", slug, "timeline", timeline_id],
    queryFn: () =>
      unwrap(api.GET("/api/v1/timelines/{timeline_id}", { params: { path: { timeline_id } } })),
  })

export const differenceQuery = (slug: string, timeline_id: string, one: string, other: string) =>
  queryOptions({
    queryKey: ["in", slug, "difference", timeline_id, one, other],
    queryFn: () =>
      unwrap(
        api.GET("/api/v1/timelines/{timeline_id}/difference", {
          params: { path: { timeline_id }, query: { one, other } },
        }),
      ),
  })

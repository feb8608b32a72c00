/** What is asked of a shootout, and when it is asked again. */
import { keepPreviousData, type Query, QueryClient } from "@tanstack/react-query"
import { api, calls, ProblemError, type Schemas, unwrap } from "./client"

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

/** What was shown stays until the next answer is there. */
export const STAYS = { placeholderData: keepPreviousData }

/** Parameters of an address inside a shootout. */
export const at = (slug: string) => ({ params: { path: { slug } } })
/** The same for a task, or for the mix. */
export const onTask = (slug: string, task: string) => ({
  params: { path: { slug }, query: { task } },
})

export const shootoutsQuery = () => api.queryOptions("get", "/api/v1/shootouts")

/** Lines that were not worked out yet come with a next answer, which is asked for ever later. */
export const shelfQuery = () => ({
  ...api.queryOptions("get", "/api/v1/shelf"),
  staleTime: 0,
  refetchInterval: ({
    state,
  }: {
    state: { data?: Schemas["ShelfLine"][] | undefined; dataUpdateCount: number }
  }) =>
    state.data?.some((line) => !line.fresh)
      ? Math.min(10_000, 250 + 50 * state.dataUpdateCount ** 1.5)
      : false,
})

export const archiveQuery = api.queryOptions("get", "/api/v1/shootouts", {
  params: { query: { archived: true } },
})

export const shootoutQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}", at(slug))

/** The run sheet; asked for again every few seconds, so that two tabs agree. */
export const sheetQuery = (slug: string) =>
  api.queryOptions("get", SHEET, at(slug), { refetchInterval: 4000 })

export const lineupQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/lineup", at(slug))

export const tasksQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/tasks", at(slug))

export const roundsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/rounds", at(slug))

export const benchQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/bench", at(slug))

export const runsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/runs", at(slug))

export const runQuery = (run_id: string) =>
  api.queryOptions("get", "/api/v1/runs/{run_id}", { params: { path: { run_id } } })

export const ladderQuery = (slug: string, task: string | undefined) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/margins",
    { params: { path: { slug }, query: task === undefined ? {} : { task } } },
    STAYS,
  )

export const pairQuery = (slug: string, task: string, a: string, b: string) =>
  api.queryOptions(
    "get",
    "/api/v1/shootouts/{slug}/margins/pair",
    { params: { path: { slug }, query: { a, b, task } } },
    STAYS,
  )

export const entryQuery = (slug: string, line: string) =>
  api.queryOptions(
    "post",
    "/api/v1/shootouts/{slug}/entry",
    { ...at(slug), body: { line } },
    { ...STAYS, gcTime: 10_000 },
  )

/** What a line means as it stands now, however soon the next one is typed. */
export const readEntry = (slug: string, line: string): Promise<Schemas["EntryReading"]> =>
  unwrap(calls.POST("/api/v1/shootouts/{slug}/entry", { ...at(slug), body: { line } }))

export type AskedSitting = { minutes: number; change_over: number; side_by_side: boolean }

/** Plans a session as the book stands now; it stays as it was planned while runs come in. */
export const planSitting = (slug: string, query: AskedSitting): Promise<Schemas["SittingView"]> =>
  unwrap(calls.GET("/api/v1/shootouts/{slug}/sitting", { params: { path: { slug }, query } }))

export const paceQuery = (slug: string, task_id: string, marks: Schemas["RunningMarks"]["marks"]) =>
  api.queryOptions(
    "post",
    "/api/v1/shootouts/{slug}/bench/pace",
    { ...at(slug), body: { task_id, marks } },
    { ...STAYS, enabled: marks.length > 0 },
  )

export const timelineQuery = (timeline_id: string) =>
  api.queryOptions("get", "/api/v1/timelines/{timeline_id}", { params: { path: { timeline_id } } })

export const differenceQuery = (timeline_id: string, one: string, other: string) =>
  api.queryOptions("get", "/api/v1/timelines/{timeline_id}/difference", {
    params: { path: { timeline_id }, query: { one, other } },
  })

const SHEET = "/api/v1/shootouts/{slug}/sheet"
/** What no change of a shootout touches; each of them is asked for again in its own time. */
const APART = ["/api/v1/me", "/api/v1/people", "/api/v1/rates", "/api/v1/task-words"]
const DEVICES = "/api/v1/shootouts/{slug}/devices"

/** True for what is asked of a shootout, by its name or by the id of something in it. */
function isIn(slug: string, { queryKey }: Query): boolean {
  const [, path, init] = queryKey as [string, string, { params?: { path?: { slug?: string } } }?]
  if (typeof path !== "string" || path === DEVICES || APART.some((each) => path.startsWith(each))) {
    return false
  }
  const named = init?.params?.path?.slug
  return named === undefined || named === slug
}

/** Marks everything of a shootout as changed: figures follow every edit. */
export function refresh(slug: string): Promise<unknown> {
  return queryClient.invalidateQueries({ predicate: (query) => isIn(slug, query) })
}

/** The same but for the run sheet, which told of the change. */
export function refreshBeside(slug: string): Promise<unknown> {
  return queryClient.invalidateQueries({
    predicate: (query) => query.queryKey[1] !== SHEET && isIn(slug, query),
  })
}

/** Marks the run sheet alone as changed. */
export const refreshSheet = (slug: string) =>
  queryClient.invalidateQueries({ queryKey: sheetQuery(slug).queryKey })

/** Marks the list of shootouts as changed. */
export const refreshShelf = () =>
  Promise.all(
    [shootoutsQuery().queryKey, shelfQuery().queryKey].map((queryKey) =>
      queryClient.invalidateQueries({ queryKey }),
    ),
  )

/** The API as the server describes it: typed calls, and queries and changes made of them. */
import createClient from "openapi-fetch"
import createQueries from "openapi-react-query"
import { announce } from "../reach/announce"
import { saidOf } from "./said"
import type { components, paths } from "./schema"

/** Calls by themselves, for what is not a query or a change of a screen. */
export const calls = createClient<paths>({
  baseUrl: window.location.origin,
  // Asked for at each call: a test, or a page's own worker, may have put another in its place.
  fetch: (request) => fetch(request),
})
/** Queries and changes of screens, typed by the API's own document. */
export const api = createQueries(calls)

export type Schemas = components["schemas"]

/** An error as the server words it (RFC 9457). */
export type Problem = {
  type: string
  title: string
  status: number
  detail: string
  field?: string
  meanings?: { meaning: "clock" | "decimal"; value_s: number; words: string }[]
  lines?: { line: number; reason: string }[]
  current?: Record<string, unknown>
}

/** Thrown where the server refuses, or does not answer. */
export class ProblemError extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail)
  }
}

const AWAY: Problem = {
  type: "/problems/away",
  title: "No answer",
  status: 0,
  detail: "True Margin does not answer. Nothing was stored; is it still running?",
}

function isProblem(body: unknown): body is Problem {
  return typeof body === "object" && body !== null && "detail" in body && "type" in body
}

/** The problem that an answer holds, or what may be said of one that holds none. */
async function problemIn(response: Response): Promise<Problem> {
  const body: unknown = await response.json().catch(() => null)
  if (isProblem(body)) return body
  return {
    type: "/problems/unexpected",
    title: "Something went wrong",
    status: response.status,
    detail: `The server answered ${response.status}. Nothing was stored; try again.`,
  }
}

calls.use({
  async onResponse({ response, request, schemaPath }) {
    if (!response.ok) throw new ProblemError(await problemIn(response))
    if (request.method === "POST" || request.method === "PUT") announce(saidOf(schemaPath))
  },
  onError({ error }) {
    // What was called off is no problem.
    if (error instanceof DOMException && error.name === "AbortError") return error
    return error instanceof ProblemError ? error : new ProblemError(AWAY)
  },
})

/** Gives the data of an answer; what went wrong has been thrown as a problem. */
export async function unwrap<Data>(call: Promise<{ data?: Data }>): Promise<Data> {
  // Where an answer holds nothing, its type says so too.
  return (await call).data as Data
}

/** Sends a form with a file; the generated client knows JSON only. */
export async function postForm<Answer>(address: string, form: FormData): Promise<Answer> {
  let response: Response
  try {
    response = await fetch(address, { method: "POST", body: form })
  } catch {
    throw new ProblemError(AWAY)
  }
  if (!response.ok) throw new ProblemError(await problemIn(response))
  return (await response.json()) as Answer
}

/** The problem behind an error, whatever it is. */
export function problemOf(error: unknown): Problem | null {
  if (error === null || error === undefined) return null
  return error instanceof ProblemError ? error.problem : { ...AWAY, detail: String(error) }
}

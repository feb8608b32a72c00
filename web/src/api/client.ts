import createClient from "openapi-fetch"
import type { components, paths } from "./schema"

export const api = createClient<paths>({ baseUrl: "" })

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

/** Gives the data of an answer, or throws the problem that came instead. */
export async function unwrap<Data>(
  call: Promise<{ data?: Data; error?: unknown; response: Response }>,
): Promise<Data> {
  let answer: { data?: Data; error?: unknown; response: Response }
  try {
    answer = await call
  } catch {
    throw new ProblemError(AWAY)
  }
  if (answer.response.ok && answer.data !== undefined) return answer.data
  // Where an answer holds nothing, its type says so too.
  if (answer.response.status === 204) return undefined as Data
  if (isProblem(answer.error)) throw new ProblemError(answer.error)
  throw new ProblemError({
    type: "/problems/unexpected",
    title: "Something went wrong",
    status: answer.response.status,
    detail: `The server answered ${answer.response.status}. Nothing was stored; try again.`,
  })
}

/** The problem behind an error, whatever it is. */
export function problemOf(error: unknown): Problem | null {
  if (error === null || error === undefined) return null
  return error instanceof ProblemError ? error.problem : { ...AWAY, detail: String(error) }
}

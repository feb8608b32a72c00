/** What is asked for now and done beside the requests: waited for, with how far it is. */
import { api, ProblemError, type Schemas, unwrap } from "./client"

export type Errand = Schemas["ErrandView"]
const LOOK_MS = 250
/** A server that is started anew is away for a while; the errand goes on there. */
const AWAY_MS = 60_000

/** Waits until an errand is done; gives what came of it, or throws why it failed. */
export async function finished(asked: Errand, told: (errand: Errand) => void): Promise<Errand> {
  let errand = asked
  let heard = Date.now()
  while (errand.state === "running") {
    told(errand)
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS))
    try {
      errand = await unwrap(
        api.GET("/api/v1/errands/{errand_id}", { params: { path: { errand_id: asked.id } } }),
      )
      heard = Date.now()
    } catch (error) {
      const passing = error instanceof ProblemError && [0, 503].includes(error.problem.status)
      if (!passing || Date.now() - heard > AWAY_MS) throw error
    }
  }
  if (!errand.problem) return errand
  const { kind, detail, field } = errand.problem
  throw new ProblemError({
    type: `/problems/${kind}`,
    title: "It was not done",
    status: 422,
    detail,
    ...(field ? { field } : {}),
  })
}

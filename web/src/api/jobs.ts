/** What is asked for now and done beside the requests: waited for, with how far it is. */
import { calls, ProblemError, type Schemas, unwrap } from "./client"
import { isAway } from "./queries"

export type Job = Schemas["JobView"]
const LOOK_MS = 250
/** A server that is started anew is away for a while; the job goes on there. */
const AWAY_MS = 60_000

/** Waits until a job is done; gives what came of it, or throws why it failed. */
export async function finished(asked: Job, told: (job: Job) => void): Promise<Job> {
  let job = asked
  let heard = Date.now()
  while (job.state === "running") {
    told(job)
    await new Promise((resolve) => setTimeout(resolve, LOOK_MS))
    try {
      const here = { params: { path: { job_id: asked.id } } }
      job = await unwrap(calls.GET("/api/v1/jobs/{job_id}", here))
      heard = Date.now()
    } catch (error) {
      if (!isAway(error) || Date.now() - heard > AWAY_MS) throw error
    }
  }
  if (!job.problem) return job
  const { kind, detail, field } = job.problem
  throw new ProblemError({
    type: `/problems/${kind}`,
    title: "It was not done",
    status: 422,
    detail,
    ...(field ? { field } : {}),
  })
}

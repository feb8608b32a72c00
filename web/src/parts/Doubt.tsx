import { useReviseRun } from "../api/changes"
import { ActButton } from "./ActButton"
import { ProblemNote } from "./ProblemNote"
import { Writes } from "./Reading"

/** The two answers to a time that looks like a slip: it does not count, or it is right. */
export function Doubt({
  slug,
  run,
  slip = "entered by mistake",
}: {
  slug: string
  run: { id: string; version: number }
  /** Why it does not count, where it does not. */
  slip?: string
}) {
  const revise = useReviseRun(slug)
  const answer = (changes: { status?: "void"; reason?: string; checked?: boolean }, why: string) =>
    revise.mutate({ id: run.id, body: { version: run.version, why, ...changes } })
  if (revise.data) {
    return (
      <span>{revise.data.run.checked ? "Kept: it is right." : "It does not count any more."}</span>
    )
  }
  return (
    <Writes>
      <span className="inline-flex flex-wrap gap-2">
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={revise.isPending}
          onClick={() => answer({ status: "void", reason: slip }, slip)}
        >
          {slip === "false start" ? "False start" : "It was a slip"}
        </ActButton>
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={revise.isPending}
          onClick={() => answer({ checked: true }, "looked at: it is right")}
        >
          It’s right
        </ActButton>
      </span>
      <ProblemNote error={revise.error} />
    </Writes>
  )
}

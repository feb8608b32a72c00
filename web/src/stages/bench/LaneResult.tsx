import type { Schemas } from "../../api/client"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"

/** What the run that just landed means, and whether the book has it yet. */
export function LaneResult({
  result,
  error,
  pending,
  said,
}: {
  result: Schemas["StoredRun"] | null
  error: unknown
  /** Runs that wait on this device. */
  pending: number
  /** No lane says already what the run means. */
  said: boolean
}) {
  return (
    <div className="mt-5 max-w-3xl" role="status">
      {result && (
        <>
          {said && <p className="font-head text-[17px] leading-6">{result.says}</p>}
          <ul className="mt-1 text-mute">
            {result.changes.map((change) => (
              <li key={change}>{change}</li>
            ))}
          </ul>
          <p className="mt-1 text-[13px] text-mute">Saved in the book.</p>
        </>
      )}
      {pending > 0 && (
        <p className="text-accent">
          {count(pending, "run")} kept on this device until the book has{" "}
          {pending === 1 ? "it" : "them"}.
        </p>
      )}
      <ProblemNote error={error} />
    </div>
  )
}

import type { Schemas } from "../../api/client"
import { outboxLog } from "../../lanes/outbox"
import { MovedCalls } from "../../parts/MovedCalls"
import { ProblemNote } from "../../parts/ProblemNote"
import { saveFile } from "../../parts/saveFile"
import { count } from "../../theme/format"

/** Saves what waits as a file, for the day on which this device never comes back. */
function saveLog() {
  saveFile(new Blob([outboxLog()], { type: "application/x-ndjson" }), "waiting-runs.jsonl")
}

/** What the run that just landed means, and whether the book has it yet. */
export function LaneResult({
  result,
  error,
  pending,
  said,
  bounced,
}: {
  result: Schemas["StoredRun"] | null
  error: unknown
  /** Runs that wait on this device. */
  pending: number
  /** No lane says already what the run means. */
  said: boolean
  /** A press that was taken for a bounce. */
  bounced: string
}) {
  return (
    <div className="mt-5 max-w-3xl">
      {result && (
        <>
          {said && (
            <p className="font-head text-17 leading-6">
              {result.doubt ? `Check it: ${result.doubt}` : result.says}
            </p>
          )}
          <MovedCalls changes={result.changes} />
          <p className="mt-1 text-13 text-mute">Saved.</p>
        </>
      )}
      {pending > 0 && (
        <p className="text-accent">
          {count(pending, "run")} waiting on this device;{" "}
          {pending === 1 ? "it is sent" : "they are sent"} when the connection is back.{" "}
          <button type="button" className="underline" onClick={saveLog}>
            Save {pending === 1 ? "it" : "them"} as a file
          </button>
        </p>
      )}
      {bounced && <p className="text-13 text-mute">{bounced}</p>}
      <ProblemNote error={error} />
    </div>
  )
}

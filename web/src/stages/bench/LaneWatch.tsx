import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import type { Watch } from "../../lanes/watch/watches"
import { compact } from "../../theme/format"

const QUIET_SHOWN_S = 3

/** What is seen of an export that this page watches, and what keeps it from looking. */
export function LaneWatch({
  bench,
  lane,
  watch,
  dense,
}: {
  bench: Bench
  lane: NumberedLane
  watch: Watch
  dense: boolean
}) {
  if (lane.phase === "stopped") return null
  const { folder, endings, trouble } = watch
  if (trouble === "permission") {
    return (
      <p className="text-13">
        <strong className="text-accent">Not watched just now:</strong> the browser asks again before
        it looks at “{folder}”.{" "}
        <button
          type="button"
          className="btn btn-sm"
          onClick={() => void bench.watches.permit(lane.id)}
        >
          Go on watching
        </button>
      </p>
    )
  }
  return (
    <p className={`text-13 text-mute ${dense ? "truncate" : ""}`}>
      Watching “{folder}”{endings.length > 0 && ` for ${endings.join(" ")}`}
      {watch.again && ", all day"}
      {lane.phase === "running" && <Seen watch={watch} />}
      {trouble === "folder" && (
        <strong className="text-accent"> · the folder cannot be read; trying again</strong>
      )}
      {trouble === "room" && (
        <strong className="text-accent">
          {" "}
          · this device has no room left: do not reload this page before it ends
        </strong>
      )}
    </p>
  )
}

/** How large the file is, how fast it grows, and how long it has been quiet. */
function Seen({ watch }: { watch: Watch }) {
  const { shown } = watch
  if (!shown) return null
  const quiet = shown.quietS >= QUIET_SHOWN_S
  return (
    <>
      {shown.size > 0 && (
        <>
          {" · "}
          <span className="figure text-base-content">{size(shown.size)}</span>
        </>
      )}
      {!quiet && shown.rate > 0 && (
        <>
          , <span className="figure">{size(shown.rate)}/s</span>
        </>
      )}
      {quiet && (
        <span>
          {" · "}quiet for <span className="figure">{Math.floor(shown.quietS)} s</span>; it ends
          after <span className="figure">{Math.round(shown.neededS)} s</span>, dated back to the
          last byte
        </span>
      )}
    </>
  )
}

function size(bytes: number): string {
  if (bytes >= 1e9) return `${compact(Math.round(bytes / 1e7) / 100)} GB`
  return bytes >= 1e6
    ? `${compact(Math.round(bytes / 1e5) / 10)} MB`
    : `${compact(Math.ceil(bytes / 1000))} kB`
}

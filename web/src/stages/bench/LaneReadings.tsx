import type { NumberedLane } from "../../lanes/desk"
import type { MarkAt } from "../../lanes/lane"
import { markWords, newest, standing } from "../../lanes/marks"
import { clock } from "../../theme/format"

const SHOWN = [
  "temperature_c",
  "power_w",
  "frames_per_s",
  "noise_db",
  "memory_gb",
  "swap_gb",
  "gpu_memory_gb",
  "cpu_load",
  "gpu_load",
  "file_gb",
] as const satisfies readonly (keyof MarkAt)[]

/** The newest readings of a lane, what happened last, and what the app said of its finish. */
export function LaneReadings({ lane }: { lane: NumberedLane }) {
  const said = SHOWN.flatMap((field) => {
    const value = newest(lane.marks, field)
    return value === null ? [] : [markWords({ [field]: value })]
  })
  const marks = standing(lane.marks).reverse()
  const event = marks.find((mark) => mark.event)
  const own = marks.find((mark) => typeof mark.left_s === "number")
  if (said.length === 0 && !event && !own) return null
  return (
    <p className="text-13">
      {said.length > 0 && <span className="figure">{said.join(" · ")}</span>}
      {event && (
        <span className="text-mute">
          {said.length > 0 && " · "}
          {event.event} at {clock(event.elapsed_s)}
        </span>
      )}
      {own && typeof own.left_s === "number" && (
        <span className="text-mute">
          {(said.length > 0 || event) && " · "}The app’s own estimate:{" "}
          {clock(own.elapsed_s + own.left_s)}
          {lane.phase === "stopped" && lane.elapsedS !== null && (
            <> ({wrongBy(own.elapsed_s + own.left_s - lane.elapsedS)})</>
          )}
        </span>
      )}
    </p>
  )
}

/** How wrong an estimated finish was, in words. */
function wrongBy(seconds: number): string {
  if (Math.abs(seconds) < 0.5) return "spot on"
  return `${clock(Math.abs(seconds))} too ${seconds > 0 ? "long" : "short"}`
}

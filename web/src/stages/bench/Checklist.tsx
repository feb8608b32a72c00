import type { Bench } from "../../lanes/bench"
import type { NumberedLane } from "../../lanes/desk"
import type { Conditions } from "../../lanes/lane"
import { leavePressed } from "../../reach/focus"

const LINES: [keyof Conditions, string][] = [
  ["fresh_boot", "Restarted"],
  ["recorder_off", "Screen recorder off"],
  ["power_as_noted", "Power as listed"],
  ["drive_as_noted", "Drive as listed"],
  ["version_as_noted", "App version as listed"],
]
const ALL: Conditions = Object.fromEntries(LINES.map(([field]) => [field, true]))
const WORDS = { true: "yes", false: "no", undefined: "not checked", null: "not checked" }

/** What to look at before the first start; each answer stays with the runs that follow. */
export function Checklist({ bench, lane }: { bench: Bench; lane: NumberedLane }) {
  const seen = LINES.filter(([field]) => typeof lane.conditions[field] === "boolean")
  const wrong = seen.filter(([field]) => lane.conditions[field] === false)
  if (seen.length === LINES.length && wrong.length === 0) {
    return (
      <p className="mt-2 text-13 text-mute">
        Checked before the start: all fine.{" "}
        <button
          type="button"
          className="underline"
          onClick={() => bench.check(lane.number, { fresh_boot: false })}
        >
          Not restarted since
        </button>
      </p>
    )
  }
  return (
    <fieldset className="mt-2 text-13">
      <legend className="text-mute">Before you start (saved with the runs)</legend>
      <div className="flex flex-wrap items-center gap-x-4 gap-y-1">
        {LINES.map(([field, words]) => {
          const value = lane.conditions[field]
          return (
            <button
              key={field}
              type="button"
              className={`min-h-6 underline decoration-dotted underline-offset-3 ${value === false ? "text-accent" : ""}`}
              onClick={(event) => {
                leavePressed(event.currentTarget)
                bench.check(lane.number, { [field]: value !== true })
              }}
            >
              {words}: <span className="font-bold">{WORDS[`${value}` as keyof typeof WORDS]}</span>
            </button>
          )
        })}
        <button
          type="button"
          className="btn btn-xs"
          onClick={(event) => {
            leavePressed(event.currentTarget)
            bench.check(lane.number, ALL)
          }}
        >
          All fine
        </button>
      </div>
    </fieldset>
  )
}

import type { Schemas } from "../../../api/client"
import { markOf, SetupMark } from "../../../parts/SetupMark"
import { clock, compact, percent } from "../../../theme/format"
import { doneAt, endOf, leadAt } from "./maths"

type Lane = Schemas["RaceLane"]

const QUARTERS = [0.25, 0.5, 0.75]

/** A bar for each setup, as long as what it has done; who is ahead, and by how much. */
export function RaceLanes({ view, at }: { view: Schemas["RaceView"]; at: number }) {
  const lead = leadAt(
    view.lanes.map((lane) => lane.points),
    at,
  )
  return (
    <>
      <p className="mt-2 min-h-6 text-16" data-testid="race lead">
        {lead && leadWords(view.lanes, lead)}
      </p>
      <ul className="mt-1 border-t border-line">
        {view.lanes.map((lane, place) => (
          <LaneBar key={lane.setup_id} lane={lane} at={at} first={lead?.first === place} />
        ))}
      </ul>
    </>
  )
}

function leadWords(lanes: Lane[], lead: NonNullable<ReturnType<typeof leadAt>>): string {
  const first = lanes[lead.first]?.label ?? ""
  const second = lead.second === null ? null : lanes[lead.second]?.label
  if (!second) return ""
  const time = lead.gapS < 60 ? `${compact(Math.round(10 * lead.gapS) / 10)} s` : clock(lead.gapS)
  // Less than a tenth of a second, or a part in a thousand, is nothing that marks could show.
  if (lead.gapS < 0.05 && lead.gap < 0.001) return `${first} and ${second} are side by side`
  const work = lead.gap >= 0.001 ? `, ${percent(lead.gap)} of the work` : ""
  return `${first} ahead of ${second} by ${time}${work}`
}

function LaneBar({ lane, at, first }: { lane: Lane; at: number; first: boolean }) {
  const done = doneAt(lane.points, at)
  const ended = at >= endOf(lane.points)
  const { color } = markOf(lane.mark)
  return (
    <li className="race-lane border-b border-line py-1.5">
      <span className={`flex min-w-0 items-center gap-2 ${first ? "font-bold" : ""}`}>
        <SetupMark index={lane.mark} />
        <span className="break-words">{lane.label}</span>
      </span>
      <span className="relative block h-7 overflow-hidden bg-base-200">
        <span
          className={`absolute inset-0 ${lane.marked ? "" : "race-guess"}`}
          style={{ backgroundColor: color, clipPath: `inset(0 ${100 * (1 - done)}% 0 0)` }}
        />
        {QUARTERS.map((part) => (
          <span
            key={part}
            className={`absolute inset-y-0 border-l ${part === 0.5 ? "border-mute" : "border-line"}`}
            style={{ left: `${100 * part}%` }}
          />
        ))}
        {lane.points.slice(1, -1).map(([t = 0, part = 0]) => (
          <span
            key={t}
            className="absolute bottom-0 h-2 border-l-2 border-base-content"
            style={{ left: `${100 * part}%` }}
          />
        ))}
      </span>
      <span className="figure text-right">
        {ended ? (
          <span className={lane.finished ? "font-bold" : "text-accent"}>{lane.shown}</span>
        ) : (
          percent(done, 0)
        )}
      </span>
    </li>
  )
}

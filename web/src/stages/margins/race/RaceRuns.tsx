import type { Schemas } from "../../../api/client"
import { SetupMark } from "../../../parts/SetupMark"

/** Which run stands for each setup; another may. */
export function RaceRuns({
  view,
  onChoose,
}: {
  view: Schemas["RaceView"]
  onChoose: (setup: string, run: string) => void
}) {
  return (
    <details className="mt-4">
      <summary className="font-head font-bold">Which run stands for each?</summary>
      <p className="mt-1 max-w-3xl text-13 text-mute">
        The run nearest the middle of its setup’s newest runs; one with progress marks where that is
        near enough. Choose another here.
      </p>
      <ul className="mt-2 max-w-2xl">
        {view.lanes.map((lane) => (
          <li key={lane.setup_id} className="flex flex-wrap items-center gap-2 py-1">
            <span className="flex w-64 items-center gap-2">
              <SetupMark index={lane.mark} />
              {lane.label}
            </span>
            <select
              className="select select-sm figure w-auto"
              aria-label={`Run of ${lane.label}`}
              value={lane.run_id}
              onChange={(event) => onChoose(lane.setup_id, event.target.value)}
            >
              {lane.runs.map((run) => (
                <option key={run.run_id} value={run.run_id}>
                  {run.label}
                  {run.marked ? ", with marks" : ""}
                </option>
              ))}
            </select>
          </li>
        ))}
      </ul>
    </details>
  )
}

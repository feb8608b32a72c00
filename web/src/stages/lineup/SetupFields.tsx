import { EditCell } from "../../parts/EditCell"
import type { Machine, Setup } from "./specs"
import { theirCondition, theirValue, useCells } from "./useCells"

const OWN = [
  ["power", "power", null],
  ["clock_ghz", "clock", "GHz"],
  ["memory_gb", "memory", "GB"],
  ["note", "note", null],
] as const

/** What is noted of the test; parity is judged by it. */
const CONDITIONS = [
  ["driver", "drivers"],
  ["encoder", "encoders"],
  ["background", "background"],
  ["caches", "caches"],
  ["boot", "boot"],
  ["screen", "screen"],
  ["room", "room"],
] as const

/** What a setup has of its own; empty fields are as on the machine. */
export function SetupFields({
  slug,
  setup,
  machine,
}: {
  slug: string
  setup: Setup
  machine: Machine
}) {
  const { saveSetup, saveCondition, setOnlySystem } = useCells(slug)
  return (
    <dl className="mb-1 grid grid-cols-[76px_minmax(0,1fr)] items-center pl-3 text-[13px]">
      {OWN.map(([field, title, unit]) => {
        const own = setup[field]
        const inherited = field === "power" || field === "note" ? null : machine[field]
        return (
          <div key={field} className="contents">
            <dt className="text-mute">{title}</dt>
            <dd className="min-w-0">
              <EditCell
                label={`${title} of ${setup.label}`}
                shown={own === null ? (inherited === null ? "" : `as the machine`) : String(own)}
                text={own === null ? "" : String(own)}
                unit={own === null ? null : unit}
                onSave={saveSetup(setup, field)}
                theirs={theirValue(field)}
                className={own === null ? "text-mute" : ""}
              />
            </dd>
          </div>
        )
      })}
      {CONDITIONS.map(([field, title]) => {
        const value = setup.conditions[field]
        const text = value === undefined || value === null ? "" : String(value)
        return (
          <div key={field} className="contents">
            <dt className="text-mute">{title}</dt>
            <dd className="min-w-0">
              <EditCell
                label={`${title} of ${setup.label}`}
                shown={text}
                text={text}
                unit={field === "room" ? "°C" : null}
                onSave={saveCondition(setup, field)}
                theirs={theirCondition(field)}
              />
            </dd>
          </div>
        )
      })}
      <dt className="text-mute">system</dt>
      <dd>
        <label className="flex items-center gap-1 px-1 py-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={setup.conditions.only_system === true}
            onChange={(event) => setOnlySystem(setup, event.target.checked)}
          />
          runs no other
        </label>
      </dd>
    </dl>
  )
}

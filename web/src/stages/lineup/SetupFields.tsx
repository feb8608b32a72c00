import { EditCell } from "../../parts/EditCell"
import type { Machine, Setup } from "./specs"
import { theirValue, useCells } from "./useCells"

const OWN = [
  ["power", "power", null],
  ["clock_ghz", "clock", "GHz"],
  ["memory_gb", "memory", "GB"],
  ["note", "note", null],
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
  const { saveSetup } = useCells(slug)
  return (
    <dl className="mb-1 grid grid-cols-[64px_minmax(0,1fr)] items-center pl-3 text-[13px]">
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
    </dl>
  )
}

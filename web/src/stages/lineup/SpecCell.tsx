import type { Schemas } from "../../api/client"
import { EditCell } from "../../parts/EditCell"
import { isMachineField, isSetupField, type Machine } from "./specs"
import { setupValue, theirValue, useCells } from "./useCells"

/** One row of one machine; split by setup where the setups are not alike. */
export function SpecCell({
  slug,
  row,
  machine,
}: {
  slug: string
  row: Schemas["SpecRow"]
  machine: Machine
}) {
  const { saveMachine, saveSetup } = useCells(slug)
  const { field, title, unit } = row
  const values = machine.setups.map((setup) => setupValue(setup, machine, field))
  const differ = new Set(values).size > 1
  if (isMachineField(field) && !differ) {
    const own = machine[field]
    const text = own === null || own === undefined ? "" : String(own)
    return (
      <EditCell
        label={`${title} of ${machine.name}`}
        shown={text}
        text={text}
        unit={unit}
        onSave={saveMachine(machine, field)}
        theirs={theirValue(field)}
      />
    )
  }
  if (!isSetupField(field)) return null
  if (!differ) {
    const saves = machine.setups.map((setup) => saveSetup(setup, field))
    return (
      <EditCell
        label={`${title} of ${machine.name}`}
        shown={values[0] ?? ""}
        text={values[0] ?? ""}
        unit={unit}
        onSave={(text) => saveEach(saves, text)}
        theirs={theirValue(field)}
      />
    )
  }
  return (
    <div className="flex gap-1">
      {machine.setups.map((setup, place) => {
        const own = setup[field]
        const text = own === null || own === undefined ? "" : String(own)
        return (
          <div key={setup.id} className="min-w-0 flex-1">
            <EditCell
              label={`${title} of ${setup.label}`}
              shown={values[place] ?? ""}
              text={text || (values[place] ?? "")}
              unit={unit}
              onSave={saveSetup(setup, field)}
              theirs={theirValue(field)}
              className={differ && place > 0 ? "border-l-2 border-base-content bg-band" : ""}
            />
          </div>
        )
      })}
    </div>
  )
}

type Save = ReturnType<ReturnType<typeof useCells>["saveSetup"]>

/** Saves the same text on every setup; the first that is refused ends it. */
async function saveEach(saves: Save[], text: string): ReturnType<Save> {
  for (const save of saves) {
    const outcome = await save(text)
    if (!outcome.saved) return outcome
  }
  return { saved: true }
}

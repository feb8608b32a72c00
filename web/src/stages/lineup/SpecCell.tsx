import { EditCell } from "../../parts/EditCell"
import { type Column, cellText, isSplit, type Row } from "./specs"
import { theirCell, useCells } from "./useCells"

/** One row of one machine; split by setup where the setups are not alike. */
export function SpecCell({ slug, row, column }: { slug: string; row: Row; column: Column }) {
  const { saveMachine, saveSetup, saveEach } = useCells(slug)
  const { machine } = column
  const { field, title, unit, choices } = row
  const part = row.level === "machine" ? "specs" : "conditions"
  if (!isSplit(column, row)) {
    const text = cellText(column, field, 0)
    const ofMachine = row.level === "machine"
    return (
      <EditCell
        label={`${title} of ${machine.name}`}
        shown={text}
        text={text}
        unit={unit}
        choices={choices}
        onSave={ofMachine ? saveMachine(machine, field) : saveEach(machine.setups, part, field)}
        theirs={theirCell(part, field)}
      />
    )
  }
  return (
    <div className="flex gap-1">
      {machine.setups.map((setup, place) => (
        <div key={setup.id} className="min-w-0 flex-1">
          <EditCell
            label={`${title} of ${setup.label}`}
            shown={cellText(column, field, place)}
            text={cellText(column, field, place)}
            unit={unit}
            choices={choices}
            onSave={saveSetup(setup, part, field)}
            theirs={theirCell(part, field)}
            className={place > 0 ? "border-l-2 border-base-content bg-band" : ""}
          />
        </div>
      ))}
    </div>
  )
}

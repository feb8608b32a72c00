import { useState } from "react"
import { EditCell } from "../../parts/EditCell"
import { Writes } from "../../parts/Reading"
import { type Column, cellText, type Row, type Setup } from "./specs"
import { theirCell, useCells } from "./useCells"

/** What a setup has of its own against its machine, and the state that it is tested in. */
export function SetupFields({
  slug,
  setup,
  column,
  rows,
}: {
  slug: string
  setup: Setup
  column: Column
  rows: Row[]
}) {
  const [added, setAdded] = useState<string[]>([])
  const own = (row: Row) => row.field in setup.specs || added.includes(row.field)
  const specs = rows.filter((row) => row.level === "machine")
  return (
    <div className="mb-1 pl-3 text-13">
      <Cells slug={slug} setup={setup} column={column} rows={specs.filter(own)} part="specs" />
      <Writes>
        <select
          aria-label={`Own value of ${setup.label}`}
          className="my-1 w-full bg-transparent text-mute"
          value=""
          onChange={(event) => setAdded([...added, event.target.value])}
        >
          <option value="">a value of its own for …</option>
          {specs
            .filter((row) => !own(row))
            .map((row) => (
              <option key={row.field} value={row.field}>
                {row.title}
              </option>
            ))}
        </select>
      </Writes>
      <details open={column.machine.setups.length === 1}>
        <summary className="cursor-pointer text-mute">state of the test</summary>
        <Cells
          slug={slug}
          setup={setup}
          column={column}
          rows={rows.filter((row) => row.level === "setup")}
          part="conditions"
        />
      </details>
    </div>
  )
}

function Cells({
  slug,
  setup,
  column,
  rows,
  part,
}: {
  slug: string
  setup: Setup
  column: Column
  rows: Row[]
  part: "specs" | "conditions"
}) {
  const { saveSetup } = useCells(slug)
  const place = column.machine.setups.findIndex((each) => each.id === setup.id)
  return (
    <dl className="grid grid-cols-[7rem_minmax(0,1fr)] items-center">
      {rows.map((row) => {
        const text =
          part === "specs" && !(row.field in setup.specs) ? "" : cellText(column, row.field, place)
        return (
          <div key={row.field} className="contents">
            <dt className="text-mute">{row.title}</dt>
            <dd className="min-w-0">
              <EditCell
                label={`${row.title} of ${setup.label}`}
                shown={text}
                text={text}
                unit={row.unit}
                choices={row.kind === "yes or no" ? ["yes", "no"] : row.choices}
                onSave={saveSetup(setup, part, row.field)}
                theirs={theirCell(part, row.field)}
              />
            </dd>
          </div>
        )
      })}
    </dl>
  )
}

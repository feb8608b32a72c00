import { useId, useState } from "react"
import type { Schemas } from "../../api/client"
import { count } from "../../theme/format"
import type { Sheet } from "./useSheet"

const MOST_CELLS = 12
type Preview = Schemas["SheetPreview"]

/** What needs a person: names that may be others, cells that cannot be read; each by itself. */
export function SheetFixes({ preview, sheet }: { preview: Preview; sheet: Sheet }) {
  const asked = new Map(
    preview.rows.filter((row) => row.state === "asked").map((row) => [row.name, row]),
  )
  const cells = preview.rows.flatMap((row) =>
    row.cells.flatMap((cell, column) => (cell.problem ? [{ row, cell, column }] : [])),
  )
  return (
    <ul className="mt-3 space-y-2">
      {[...asked.values()].map((row) => (
        <li key={row.name} className="border-l-4 border-accent pl-3">
          <strong>{row.why}</strong>{" "}
          {row.choices.map((choice) => (
            <button
              key={choice}
              type="button"
              className="btn btn-xs mx-1"
              onClick={() => sheet.setName(row.name, choice)}
            >
              {choice}
            </button>
          ))}
          <button
            type="button"
            className="btn btn-xs mx-1"
            onClick={() => sheet.setName(row.name, "+")}
          >
            A new machine
          </button>
          <LeaveOut onClick={() => sheet.setName(row.name, "")} what={`“${row.name}”`} />
        </li>
      ))}
      {cells.slice(0, MOST_CELLS).map(({ row, cell, column }) => (
        <CellFix
          key={`${row.place}:${column}:${cell.text}`}
          where={`${row.name || `line ${row.line}`}, ${preview.columns[column]?.head ?? ""}`}
          cell={cell}
          onText={(text) => sheet.setCell(`${row.place}:${column}`, text)}
        />
      ))}
      {cells.length > MOST_CELLS && (
        <li className="pl-4 text-mute">
          and {count(cells.length - MOST_CELLS, "cell")} more, marked in the table
        </li>
      )}
    </ul>
  )
}

function LeaveOut({ onClick, what }: { onClick: () => void; what: string }) {
  return (
    <button
      type="button"
      aria-label={`Leave out ${what}`}
      className="ml-1 text-13 underline"
      onClick={onClick}
    >
      Leave out
    </button>
  )
}

/** A cell that cannot go in: why, what may have been meant, and a field to type it anew. */
function CellFix({
  where,
  cell,
  onText,
}: {
  where: string
  cell: Schemas["CellRead"]
  onText: (text: string | null) => void
}) {
  const [text, setText] = useState(cell.text)
  const id = useId()
  return (
    <li className="border-l-4 border-accent pl-3">
      <form
        className="flex flex-wrap items-center gap-x-3 gap-y-1"
        onSubmit={(event) => {
          event.preventDefault()
          onText(text)
        }}
      >
        <label htmlFor={id}>
          <strong>{cell.problem}</strong>{" "}
          <span className="break-all text-mute">
            {where.length > 80 ? `${where.slice(0, 79)}…` : where}
          </span>
        </label>
        {cell.fixes?.map((fix) => (
          <button
            key={fix.typed}
            type="button"
            className="btn btn-xs figure"
            onClick={() => onText(fix.typed)}
          >
            {fix.words}
          </button>
        ))}
        <input
          id={id}
          className="figure input input-xs w-28 bg-page"
          value={text}
          maxLength={120}
          onChange={(event) => setText(event.target.value)}
        />
        <button type="submit" className="btn btn-xs">
          Fix
        </button>
        <LeaveOut onClick={() => onText(null)} what={`the cell of ${where}`} />
      </form>
    </li>
  )
}

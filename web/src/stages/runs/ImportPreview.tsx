import type { Schemas } from "../../api/client"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"
import { ReadRow } from "./ReadRow"
import { FIELDS, type useImport, WIDE } from "./useImport"

const SHOWN_GOOD = 60

/** A table as it would be stored: columns as understood, every bad row with its reason. */
export function ImportPreview({
  preview,
  table,
  onClose,
}: {
  preview: Schemas["ImportPreview"]
  table: ReturnType<typeof useImport>
  onClose: () => void
}) {
  const bad = preview.rows.filter((row) => row.problem !== null)
  const good = preview.rows.filter((row) => row.problem === null)
  const hasNew = preview.rows.some((row) => row.new_setup || row.new_task)
  const shown = [...bad, ...good.slice(0, SHOWN_GOOD)].sort((a, b) => a.line - b.line)
  return (
    <div>
      <p className="mb-2">
        <strong>Nothing is stored yet.</strong> {count(preview.rows.length, "row")}, divided by{" "}
        {preview.delimiter}: {preview.good} good
        {bad.length > 0 && <span className="text-accent">, {bad.length} bad</span>}.
        {preview.new_rounds.length > 0 && ` New rounds: ${preview.new_rounds.join(", ")}.`}
      </p>
      <Columns preview={preview} table={table} />
      <AllAlike rows={preview.rows} onAnswer={table.answerAll} />
      {hasNew && (
        <label className="my-3 flex items-start gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={table.addMissing}
            onChange={(event) => table.setAddMissing(event.target.checked)}
          />
          <span>
            Add what is not known yet: {[...preview.new_setups, ...preview.new_tasks].join(", ")}
          </span>
        </label>
      )}
      <Buttons
        table={table}
        rows={preview.rows.length}
        good={good.length}
        bad={bad.length}
        onClose={onClose}
      />
      <ProblemNote error={table.error} />
      <div className="overflow-x-auto">
        <table className="w-full border-collapse text-[13px]">
          <thead>
            <tr className="border-b border-base-content text-left text-mute">
              {["line", "setup", "task", "round", "typed", "means", "reading", "status", ""].map(
                (title) => (
                  <th key={title} className="pr-3 py-1 font-normal">
                    {title}
                  </th>
                ),
              )}
            </tr>
          </thead>
          <tbody>
            {shown.map((row) => (
              <ReadRow
                key={row.line}
                row={row}
                onAnswer={(meaning) => table.answer(row.line, meaning)}
              />
            ))}
          </tbody>
        </table>
      </div>
      {good.length > SHOWN_GOOD && (
        <p className="mt-2 text-mute">and {good.length - SHOWN_GOOD} more good rows</p>
      )}
    </div>
  )
}

/** Times with two meanings, answered all alike. */
function AllAlike({
  rows,
  onAnswer,
}: {
  rows: Schemas["ImportRow"][]
  onAnswer: (lines: number[], meaning: "clock" | "decimal") => void
}) {
  const asked = rows.filter((row) => row.meanings.length > 0)
  if (asked.length < 2) return null
  const lines = asked.map((row) => row.line)
  return (
    <p className="my-3">
      {count(asked.length, "time")} such as {asked[0]?.typed} have two meanings. All alike:{" "}
      {(["clock", "decimal"] as const).map((meaning) => (
        <button
          key={meaning}
          type="button"
          className="btn btn-xs ml-2"
          onClick={() => onAnswer(lines, meaning)}
        >
          {asked[0]?.meanings.find((each) => each.meaning === meaning)?.words}
        </button>
      ))}
    </p>
  )
}

function Columns({
  preview,
  table,
}: {
  preview: Schemas["ImportPreview"]
  table: ReturnType<typeof useImport>
}) {
  return (
    <fieldset>
      <legend className="mb-1 text-[13px] text-mute">Columns, as understood</legend>
      <div className="flex flex-wrap gap-3">
        {preview.columns.map((column, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a column is its place; headers may repeat
          <label key={place} className="flex items-center gap-1 text-[13px]">
            <span className="max-w-40 truncate">{column.header || `column ${place + 1}`}</span> →
            <select
              className="select select-xs w-28 bg-page"
              value={column.field ?? ""}
              onChange={(event) => table.setColumn(place, event.target.value)}
            >
              <option value="">left out</option>
              {[...FIELDS, ...WIDE].map((field) => (
                <option key={field}>{field}</option>
              ))}
            </select>
          </label>
        ))}
      </div>
    </fieldset>
  )
}

/** What can be done with the table. */
function Buttons({
  table,
  rows,
  good,
  bad,
  onClose,
}: {
  table: ReturnType<typeof useImport>
  rows: number
  good: number
  bad: number
  onClose: () => void
}) {
  return (
    <div className="my-3 flex flex-wrap gap-2">
      <button
        type="button"
        className="btn btn-primary btn-sm"
        disabled={good === 0 || table.busy}
        onClick={() => table.store(bad > 0)}
      >
        {bad > 0
          ? `Store ${count(good, "good row")}, leave out ${bad}`
          : `Store ${count(good, "run")}`}
      </button>
      {table.busy && (
        <span role="status" className="self-center text-mute">
          Working on {count(rows, "row")}…
        </span>
      )}
      <button type="button" className="btn btn-sm" onClick={table.again}>
        Change the table
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
        Cancel
      </button>
    </div>
  )
}

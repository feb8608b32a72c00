import type { ReactNode } from "react"
import type { Schemas } from "../../api/client"
import { count } from "../../theme/format"
import { ProblemNote } from "../ProblemNote"
import { ColumnHead } from "./ColumnHead"
import { NewTasks } from "./NewTasks"
import { SheetFixes } from "./SheetFixes"
import type { Sheet } from "./useSheet"

const MOST_NAMED = 12

/** A sheet read back: what is ready, what needs somebody, every column changeable. */
export function SheetView({
  preview,
  sheet,
  children,
}: {
  preview: Schemas["SheetPreview"]
  sheet: Sheet /** What can be done with it. */
  children: ReactNode
}) {
  return (
    <section aria-label="What the table means">
      <h2 className="text-24 leading-8" aria-live="polite">
        {preview.headline}
      </h2>
      <p className="mb-3 text-15">
        {preview.needs && (
          <>
            <strong className="text-accent">{preview.needs};</strong> the rest can go in without{" "}
            {preview.needs.startsWith("1 ") && !preview.needs.includes(" and ") ? "it" : "them"}.{" "}
          </>
        )}
        Change any heading that was read wrongly.{" "}
        <button
          type="button"
          className="text-13 underline"
          onClick={() => sheet.turn(!preview.turned)}
        >
          {preview.turned ? "Machines are down, not across" : "Machines are across, not down"}
        </button>
      </p>
      <SheetTable preview={preview} sheet={sheet} />
      <SheetFixes preview={preview} sheet={sheet} />
      <NewTasks preview={preview} sheet={sheet} />
      <NewMachines preview={preview} sheet={sheet} />
      <Aside lines={preview.aside} />
      <div className="mt-6 border-t border-line pt-3">
        <h3 className="text-14">What will be saved</h3>
        <ul className="my-1 flex flex-wrap gap-x-6 text-13">
          {preview.saved.map((line) => (
            <li key={line}>{line}</li>
          ))}
          {preview.new_rounds.length > 0 && <li>new rounds: {preview.new_rounds.join(", ")}</li>}
        </ul>
        <ProblemNote error={sheet.error} />
        <div className="mt-2 flex flex-wrap items-center gap-3">{children}</div>
      </div>
    </section>
  )
}

function SheetTable({ preview, sheet }: { preview: Schemas["SheetPreview"]; sheet: Sheet }) {
  return (
    // biome-ignore lint/a11y/noNoninteractiveTabindex: a wide table scrolls by keys as well
    <section className="relative overflow-x-auto" tabIndex={0} aria-label="The table as read">
      <table className="border-collapse text-13">
        <thead>
          <tr>
            {preview.columns.map((view) => (
              <ColumnHead key={view.place} view={view} sheet={sheet} />
            ))}
          </tr>
        </thead>
        <tbody>
          {preview.rows.map((row) => (
            <tr key={row.place} className="border-t border-line">
              {row.cells.map((cell, column) => (
                <Cell
                  // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
                  key={column}
                  row={row}
                  cell={cell}
                  view={preview.columns[column] as Schemas["ColumnView"]}
                />
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {preview.rows_total > preview.rows.length && (
        <p className="mt-2 text-mute">
          and {count(preview.rows_total - preview.rows.length, "row")} more without a question
        </p>
      )}
    </section>
  )
}

function Cell({
  row,
  cell,
  view,
}: {
  row: Schemas["SheetRow"]
  cell: Schemas["CellRead"]
  view: Schemas["ColumnView"]
}) {
  const struck = row.state === "out" || view.reading.means === "leave out"
  const name = view.reading.means === "machine"
  const look = struck ? "text-mute line-through" : name ? "font-bold" : "figure"
  return (
    <td
      className={`max-w-56 px-2 py-2 align-top break-words whitespace-pre-line ${look} ${view.question ? "bg-page" : ""}`}
      title={struck ? (row.why ?? "left out") : undefined}
    >
      {cell.problem ? (
        <span className="jawed inline-block max-w-56 px-3 py-0.5 font-bold break-all text-accent">
          {cell.text}
        </span>
      ) : (
        cell.text || "–"
      )}
      {name && row.state === "new" && (
        <span className="ml-1 text-12 font-normal text-accent">new</span>
      )}
      {name && row.state === "known" && row.setup !== row.name && (
        <span className="block text-12 font-normal text-mute">{row.setup}</span>
      )}
    </td>
  )
}

/** Machines that would be added; each may be one that is there, or be left out. */
function NewMachines({ preview, sheet }: { preview: Schemas["SheetPreview"]; sheet: Sheet }) {
  const names = preview.new_setups
  if (names.length === 0) return null
  const given = Object.entries(sheet.given?.names ?? {})
  return (
    <div className="mt-2 border-l-4 border-base-content pl-3">
      <p>
        <strong>{names.length === 1 ? "A new machine" : `${names.length} new machines`}:</strong>{" "}
        {names.slice(0, MOST_NAMED).map((name, place) => (
          <span key={name}>
            {place > 0 && ", "}
            {name}{" "}
            <button
              type="button"
              aria-label={`Leave out ${name}`}
              className="text-12 text-mute underline"
              onClick={() => sheet.setName(name, "")}
            >
              leave out
            </button>
          </span>
        ))}
        {names.length > MOST_NAMED && ` and ${names.length - MOST_NAMED} more`}
      </p>
      {given.map(([name, setup]) =>
        setup === "" ? (
          <p key={name} className="text-13 text-mute">
            {name} is left out.{" "}
            <button type="button" className="underline" onClick={() => sheet.setName(name, "+")}>
              Add it after all
            </button>
          </p>
        ) : null,
      )}
    </div>
  )
}

/** Lines that hold no results, and why; nothing goes unseen. */
function Aside({ lines }: { lines: Schemas["Aside"][] }) {
  if (lines.length === 0) return null
  return (
    <details className="mt-3 text-13 text-mute">
      <summary>{count(lines.length, "line")} without results</summary>
      <ul>
        {lines.map((line) => (
          <li key={line.line}>
            Line {line.line}: {line.text} ({line.why})
          </li>
        ))}
      </ul>
    </details>
  )
}

import { useId, useState } from "react"
import type { Schemas } from "../../api/client"
import { type Column, readAs, type Sheet } from "./useSheet"

const CHOICES: readonly { key: string; words: string; column: Column }[] = [
  { key: "machine", words: "Machine", column: readAs("machine") },
  { key: "task time", words: "Task, time", column: readAs("task", { measure: "time" }) },
  { key: "task amount", words: "Task, amount", column: readAs("task", { measure: "amount" }) },
  { key: "spec", words: "Spec row", column: readAs("spec") },
  { key: "price", words: "Price", column: readAs("price") },
  { key: "round", words: "Round", column: readAs("round") },
  { key: "day", words: "Day", column: readAs("day") },
  { key: "note", words: "Note", column: readAs("note") },
  { key: "ratio", words: "Noted ratio", column: readAs("ratio") },
  { key: "task name", words: "Task’s name", column: readAs("task name") },
  { key: "result", words: "Result", column: readAs("result") },
  { key: "reading", words: "How it was read", column: readAs("reading") },
  { key: "status", words: "Counts or not", column: readAs("status") },
  { key: "order", words: "Order", column: readAs("order") },
  { key: "leave out", words: "Leave out", column: readAs("leave out") },
]
const UNITS = ["", "s", "min", "h", "min:s", "h:min", "h:min:s"]

const keyOf = (column: Schemas["ColumnReading"]) =>
  column.means === "task" ? `task ${column.measure || "time"}` : column.means

/** How a column is read: changeable, with its first cells read back. */
export function ColumnHead({ view, sheet }: { view: Schemas["ColumnView"]; sheet: Sheet }) {
  const { reading, place } = view
  const asked = view.question !== null
  const out = reading.means === "leave out"
  const edge = asked
    ? "border-t-[5px] border-double border-accent bg-page"
    : out
      ? "border-t-4 border-dotted border-line text-mute"
      : "border-t-4 border-base-content"
  return (
    <th scope="col" className={`min-w-32 px-2 pb-2 text-left align-top font-normal ${edge}`}>
      <span className="figure block max-w-40 truncate pt-1 text-12 text-mute" title={view.head}>
        {view.head || `column ${place + 1}`}
      </span>
      <select
        aria-label={`Column ${view.head || place + 1} is`}
        className={`select select-xs h-7 w-full max-w-40 border-0 bg-transparent pr-6 pl-0 text-13 font-bold ${asked ? "text-accent" : ""}`}
        value={keyOf(reading)}
        onChange={(event) => {
          const chosen = CHOICES.find((each) => each.key === event.target.value)
          if (chosen) sheet.setColumn(place, chosen.column)
        }}
      >
        {reading.means === "which one?" && <option value="which one?">Which one?</option>}
        {CHOICES.map((each) => (
          <option key={each.key} value={each.key}>
            {each.words}
          </option>
        ))}
      </select>
      <Details key={`${reading.means} ${reading.name}`} view={view} sheet={sheet} />
      {view.question && <Question view={view} sheet={sheet} />}
      {view.words.map((line) => (
        <span key={line} className="block text-12 leading-4 text-mute">
          {line}
        </span>
      ))}
      {view.samples.length > 0 && (
        <span className="figure mt-1 block text-12 leading-4">
          {view.samples.map((sample, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: a sample is its place
            <span key={place} className="block">
              {sample}
            </span>
          ))}
        </span>
      )}
    </th>
  )
}

/** What a column leaves open, and the answers to it. */
function Question({ view, sheet }: { view: Schemas["ColumnView"]; sheet: Sheet }) {
  return (
    <div className="my-1 max-w-44">
      <p className="text-13 font-bold text-accent">{view.question}</p>
      <div className="mt-1 flex flex-col items-start gap-1">
        {view.choices.map((choice) => (
          <button
            key={choice.words}
            type="button"
            className="btn btn-xs"
            onClick={() =>
              sheet.setColumn(view.place, readAs(choice.reading.means, choice.reading))
            }
          >
            {choice.words}
          </button>
        ))}
      </div>
    </div>
  )
}

/** The name of a task, a spec row or a machine, and the unit of times: typed over. */
function Details({ view, sheet }: { view: Schemas["ColumnView"]; sheet: Sheet }) {
  const { reading, place } = view
  const [name, setName] = useState(reading.name ?? "")
  const id = useId()
  if (!["task", "spec", "ratio"].includes(reading.means)) return null
  const save = () => {
    if (name.trim() && name !== reading.name)
      sheet.setColumn(place, readAs(reading.means, { ...reading, name, spec: null }))
  }
  const label = { task: "Task", spec: "Row", ratio: "Against" }[reading.means as "task"]
  return (
    <div className="mt-1 max-w-40">
      <label htmlFor={id} className="sr-only">
        {label} of column {view.head || place + 1}
      </label>
      <input
        id={id}
        className="input input-xs h-6 w-full border-0 border-b border-line bg-transparent px-0 text-13"
        placeholder={label}
        value={name}
        maxLength={120}
        onChange={(event) => setName(event.target.value)}
        onBlur={save}
        onKeyDown={(event) => event.key === "Enter" && save()}
      />
      {reading.means === "task" && reading.measure === "time" && (
        <select
          aria-label={`Unit of column ${view.head || place + 1}`}
          className="select select-xs h-6 w-full border-0 bg-transparent pl-0 text-mute"
          value={reading.unit}
          onChange={(event) =>
            sheet.setColumn(place, readAs(reading.means, { ...reading, unit: event.target.value }))
          }
        >
          {[...new Set([...UNITS, reading.unit ?? ""])].map((unit) => (
            <option key={unit} value={unit}>
              {unit || "as written"}
            </option>
          ))}
        </select>
      )}
    </div>
  )
}

import { type DragEvent, type ReactNode, useState } from "react"
import { SetupMark } from "../../parts/SetupMark"
import { count } from "../../theme/format"
import type { Column } from "./specs"

const TYPE = "application/x-true-margin-machine"

/**
 * A machine's column head: its name opens it; drag it to another place in the line-up, or drop
 * a spec file on it.
 */
export function MachineHead({
  column,
  placeOf,
  onOpen,
  onDrop,
  onFile,
  children,
}: {
  column: Column
  /** Place of a setup in the line-up, for its marker. */
  placeOf: (setupId: string) => number
  onOpen: () => void
  /** With the id of the machine that was dropped here. */
  onDrop: (machineId: string) => void
  /** With a spec file that was dropped here. */
  onFile: (file: File) => void
  /** Its price. */
  children: ReactNode
}) {
  const { machine, shares_with } = column
  const [over, setOver] = useState(false)
  const accept = (event: DragEvent) => {
    const { types } = event.dataTransfer
    if (types.includes(TYPE) || types.includes("Files")) {
      event.preventDefault()
      setOver(true)
    }
  }
  return (
    <th
      scope="col"
      draggable
      className={`max-w-64 min-w-32 border-l px-2 py-2 text-left ${over ? "border-l-4 border-accent" : "border-line"} ${machine.retired_at ? "opacity-60" : ""}`}
      onDragStart={(event) => event.dataTransfer.setData(TYPE, machine.id)}
      onDragOver={accept}
      onDragLeave={() => setOver(false)}
      onDrop={(event) => {
        setOver(false)
        const file = event.dataTransfer.files[0]
        if (file) {
          event.preventDefault()
          return onFile(file)
        }
        onDrop(event.dataTransfer.getData(TYPE))
      }}
    >
      <button
        type="button"
        className="flex w-full min-w-0 items-start gap-2 text-left font-head text-16 leading-5 font-bold hover:underline"
        title="Open: setups, prices, name, order"
        onClick={onOpen}
      >
        <span className="pt-0.5">
          <SetupMark index={placeOf(machine.setups[0]?.id ?? "")} />
        </span>
        <span className="line-clamp-3 min-w-0 break-words" title={machine.name}>
          {machine.name}
        </span>
      </button>
      <span className="mt-1 flex flex-wrap gap-x-4 text-13 font-normal text-mute">
        {machine.model && <span>a sample of {machine.model}</span>}
        {machine.retired_at && <span>retired</span>}
        {shares_with.length > 0 && <span>shares parts with {shares_with.join(", ")}</span>}
        {machine.setups.map((setup) => (
          <span key={setup.id} className="flex min-w-0 items-center gap-1 break-words">
            {machine.setups.length > 1 && <SetupMark index={placeOf(setup.id)} size={9} />}
            {setup.name}
          </span>
        ))}
      </span>
      <span className="mt-1 block text-13 font-normal text-mute">
        {count(column.runs, "run")}
        {column.missing > 0 && (
          <span className="text-accent"> · {count(column.missing, "task")} not timed</span>
        )}
      </span>
      <div className="mt-2 font-normal">{children}</div>
    </th>
  )
}

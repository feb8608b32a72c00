import type { FormEvent } from "react"
import { useAddSetup } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { EditCell } from "../../parts/EditCell"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { NotePart, SideNote } from "../../parts/SideNote"
import { useSentText } from "../../parts/useSentText"
import { count } from "../../theme/format"
import { Assumed } from "./Assumed"
import { Extras } from "./Extras"
import { MachineActions } from "./MachineActions"
import { Prices } from "./Prices"
import { SetupFields } from "./SetupFields"
import { type Column, type Machine, type Row, type Setup, shownValue } from "./specs"
import { theirName, useCells } from "./useCells"

/** One machine: its name, setups and price records. */
export function MachineNote({
  slug,
  column,
  rows,
  setups,
  currency,
  priceDate,
  ids,
  onClose,
}: {
  slug: string
  column: Column
  rows: Row[]
  /** All setups of the line-up. */
  setups: Setup[]
  currency: string
  /** Day whose prices count, ISO. */
  priceDate: string
  /** Ids of all machines in their order. */
  ids: string[]
  onClose: () => void
}) {
  const { machine } = column
  const { renameMachine, renameSetup, saveModel } = useCells(slug)
  const copy = useAddSetup(slug)
  return (
    <SideNote
      title={`Machine · ${count(column.runs, "run")}`}
      name={machine.name}
      about={machine.id}
      onClose={onClose}
    >
      <div className="font-head text-18 font-bold">
        <EditCell
          label="Name of the machine"
          shown={machine.name}
          text={machine.name}
          onSave={renameMachine(machine)}
          theirs={theirName}
        />
      </div>
      <div className="flex items-baseline gap-2 text-13">
        <span className="whitespace-nowrap text-mute">a sample of</span>
        <EditCell
          label="Model that it is a sample of"
          shown={machine.model ?? "itself: no other of its model is here"}
          text={machine.model ?? ""}
          onSave={saveModel(machine)}
          theirs={(problem) => shownValue(problem.current?.model)}
        />
      </div>
      <Writes>
        <MachineActions slug={slug} machine={machine} ids={ids} onArchived={onClose} />
      </Writes>
      <NotePart title="Setups">
        <p className="mb-1 text-13 text-mute">
          A setup is the machine in one tested state. Runs belong to setups.
        </p>
        <ul>
          {machine.setups.map((setup) => (
            <li key={setup.id} className="border-b border-line">
              <EditCell
                label="Name of the setup"
                shown={setup.name}
                text={setup.name}
                onSave={renameSetup(setup)}
                theirs={theirName}
              />
              <SetupFields slug={slug} setup={setup} column={column} rows={rows} />
              <Assumed slug={slug} setup={setup} setups={setups} />
              <Extras slug={slug} setup={setup} currency={currency} />
              <Writes>
                <button
                  type="button"
                  className="btn btn-ghost btn-xs"
                  onClick={() => copy.mutate({ id: machine.id, body: copyOf(setup, machine) })}
                >
                  Copy this setup
                </button>
              </Writes>
            </li>
          ))}
        </ul>
        <Writes>
          <AddSetup slug={slug} machineId={machine.id} />
        </Writes>
      </NotePart>
      <Prices slug={slug} machine={machine} currency={currency} priceDate={priceDate} />
    </SideNote>
  )
}

/** A new setup like this one, under a name that is free. */
function copyOf(setup: Setup, machine: Machine): Schemas["NewSetup"] {
  const names = machine.setups.map((each) => each.name)
  let name = `${setup.name} copy`
  for (let count = 2; names.includes(name); count++) name = `${setup.name} copy ${count}`
  return { name, copy_from: setup.id }
}

function AddSetup({ slug, machineId }: { slug: string; machineId: string }) {
  const { text: name, setText: setName, sent } = useSentText()
  const add = useAddSetup(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    add.mutate({ id: machineId, body: { name } }, sent())
  }
  return (
    <form onSubmit={submit} className="mt-2 flex items-end gap-2">
      <div className="flex-1">
        <TextField
          label="Another setup"
          placeholder="on battery"
          value={name}
          onText={setName}
          maxLength={120}
        />
        <ProblemNote error={add.error} />
      </div>
      <ActButton type="submit" className="btn btn-sm" needs={!name.trim() && "Needs a name."}>
        Add setup
      </ActButton>
    </form>
  )
}

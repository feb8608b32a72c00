import type { FormEvent } from "react"
import { useAddSetup } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { EditCell } from "../../parts/EditCell"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { NotePart, SideNote } from "../../parts/SideNote"
import { useSentText } from "../../parts/useSentText"
import { count, day, money } from "../../theme/format"
import { AddPrice } from "./AddPrice"
import { Assumed } from "./Assumed"
import { Extras } from "./Extras"
import { MachineActions } from "./MachineActions"
import { SetupFields } from "./SetupFields"
import type { Column, Machine, Row, Setup } from "./specs"
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
  const { renameMachine, renameSetup } = useCells(slug)
  const copy = useAddSetup(slug)
  return (
    <SideNote title={`Machine · ${count(column.runs, "run")}`} onClose={onClose}>
      <div className="font-head text-[18px] font-bold">
        <EditCell
          label="Name of the machine"
          shown={machine.name}
          text={machine.name}
          onSave={renameMachine(machine)}
          theirs={theirName}
        />
      </div>
      <Writes>
        <MachineActions slug={slug} machine={machine} ids={ids} onArchived={onClose} />
      </Writes>
      <NotePart title="Setups">
        <p className="mb-1 text-[13px] text-mute">
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
      <button type="submit" className="btn btn-sm" disabled={!name.trim()}>
        Add setup
      </button>
    </form>
  )
}

/** A price record with all that it says. */
function PriceLine({ price, priceDate }: { price: Schemas["Price"]; priceDate: string }) {
  return (
    <li className="flex justify-between gap-2 border-b border-line py-1">
      <span className="min-w-0">
        {price.kind}, {day(price.dated)}
        <span className="block text-[13px] text-mute">
          {[price.source, price.configuration].filter(Boolean).join(", ")}
          {price.until &&
            (price.until < priceDate
              ? ` · offer ended ${day(price.until)}`
              : ` · offer until ${day(price.until)}`)}
          {price.coupon && ` · coupon ${price.coupon}`}
          {price.region && ` · good in ${price.region}`}
          {price.note && ` · ${price.note}`}
          {price.tax_included === false && " · without tax"}
          {price.shipping_included && " · with shipping"}
          {price.paid_link && " · paid link"}
        </span>
      </span>
      <span className="figure whitespace-nowrap">
        {money(price.amount)} <span className="text-[12px] text-mute">{price.currency}</span>
      </span>
    </li>
  )
}

/** All price records of a machine, newest first, and a form for one more. */
function Prices({
  slug,
  machine,
  currency,
  priceDate,
}: {
  slug: string
  machine: Machine
  currency: string
  priceDate: string
}) {
  return (
    <NotePart title="Prices">
      <ul>
        {machine.prices.map((price) => (
          <PriceLine key={price.id} price={price} priceDate={priceDate} />
        ))}
        {machine.prices.length === 0 && <li className="text-mute">No price yet.</li>}
      </ul>
      <Writes>
        <AddPrice slug={slug} machineId={machine.id} currency={currency} />
      </Writes>
    </NotePart>
  )
}

import { type FormEvent, useState } from "react"
import { PriceKind } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { useAddPrice } from "../../api/prices"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

const FLAGS = [
  ["tax_included", "tax included"],
  ["shipping_included", "shipping included"],
  ["paid_link", "paid link"],
] as const
const KNOWN = ["amount", "currency", "until"]
type Kind = (typeof PriceKind)[number]

/** Adds a price record; earlier ones stay. */
export function AddPrice({
  slug,
  machineId,
  currency,
}: {
  slug: string
  machineId: string
  /** Of the shootout, three letters. */
  currency: string
}) {
  const [kind, setKind] = useState<Kind>("street")
  const [amount, setAmount] = useState("")
  const [dated, setDated] = useState(today)
  const [source, setSource] = useState("")
  const [unit, setUnit] = useState(currency)
  const [until, setUntil] = useState("")
  const [configuration, setConfiguration] = useState("")
  const [coupon, setCoupon] = useState("")
  const [region, setRegion] = useState("")
  const [note, setNote] = useState("")
  const [flags, setFlags] = useState({
    tax_included: true,
    shipping_included: false,
    paid_link: false,
  })
  const add = useAddPrice(slug)
  const problem = problemOf(add.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const body: Schemas["NewPrice"] = {
      kind,
      amount,
      currency: unit.trim().toUpperCase(),
      dated,
      ...flags,
      ...(source ? { source } : {}),
      ...(until ? { until } : {}),
      ...(configuration ? { configuration } : {}),
      ...(coupon ? { coupon } : {}),
      ...(region.trim() ? { region: region.trim() } : {}),
      ...(note ? { note } : {}),
    }
    add.mutate({ id: machineId, body }, { onSuccess: () => setAmount("") })
  }
  return (
    <form onSubmit={submit} className="mt-3 grid grid-cols-2 gap-2">
      <TextField
        label="Amount"
        value={amount}
        onText={setAmount}
        placeholder="1290"
        error={problem?.field === "amount" ? problem.detail : null}
      />
      <Field label="Kind">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={kind}
            onChange={(event) =>
              setKind(PriceKind.find((k) => k === event.target.value) ?? "street")
            }
          >
            {PriceKind.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </select>
        )}
      </Field>
      <TextField
        label="Currency"
        value={unit}
        onText={setUnit}
        maxLength={3}
        error={problem?.field === "currency" ? problem.detail : null}
      />
      <TextField
        label="Offer until, if any"
        type="date"
        value={until}
        onText={setUntil}
        error={problem?.field === "until" ? problem.detail : null}
      />
      <TextField label="Day" type="date" value={dated} onText={setDated} required />
      <TextField label="Shop or list" value={source} onText={setSource} maxLength={120} />
      <div className="col-span-2">
        <TextField
          label="Exact configuration"
          value={configuration}
          onText={setConfiguration}
          maxLength={200}
        />
      </div>
      <TextField label="Coupon, if any" value={coupon} onText={setCoupon} maxLength={60} />
      <TextField label="Region, if any" value={region} onText={setRegion} maxLength={60} />
      <TextField label="Note" value={note} onText={setNote} maxLength={500} />
      <fieldset className="col-span-2 flex flex-wrap gap-x-3 text-[13px]">
        {FLAGS.map(([flag, words]) => (
          <label key={flag} className="flex items-center gap-1">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={flags[flag]}
              onChange={(event) => setFlags({ ...flags, [flag]: event.target.checked })}
            />
            {words}
          </label>
        ))}
      </fieldset>
      {problem && !KNOWN.includes(problem.field ?? "") && <ProblemNote error={add.error} />}
      <button type="submit" className="btn btn-sm col-span-2" disabled={!amount.trim()}>
        Add price
      </button>
    </form>
  )
}

/** Today where the reviewer is, as a date field has it. */
export function today(): string {
  const now = new Date()
  const local = new Date(now.getTime() - 60_000 * now.getTimezoneOffset())
  return local.toISOString().slice(0, 10)
}

import { type FormEvent, useState } from "react"
import { useAddPrice } from "../../api/changes"
import { problemOf } from "../../api/client"
import { Field, TextField } from "../../parts/Field"

const KINDS = ["list", "street", "paid", "used"] as const
type Kind = (typeof KINDS)[number]

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
  const add = useAddPrice(slug)
  const problem = problemOf(add.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const body = { kind, amount, currency, dated, ...(source ? { source } : {}) }
    add.mutate({ id: machineId, body }, { onSuccess: () => setAmount("") })
  }
  return (
    <form onSubmit={submit} className="mt-3 grid grid-cols-2 gap-2">
      <TextField
        label={`Amount, ${currency}`}
        value={amount}
        onText={setAmount}
        placeholder="1290"
        error={problem ? problem.detail : null}
      />
      <Field label="Kind">
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={kind}
            onChange={(event) => setKind(KINDS.find((k) => k === event.target.value) ?? "street")}
          >
            {KINDS.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </select>
        )}
      </Field>
      <TextField label="Day" type="date" value={dated} onText={setDated} required />
      <TextField label="Shop or list" value={source} onText={setSource} maxLength={120} />
      <button type="submit" className="btn btn-sm col-span-2" disabled={!amount.trim()}>
        Add price
      </button>
    </form>
  )
}

/** Today where the reviewer is, as a date field has it. */
function today(): string {
  const now = new Date()
  const local = new Date(now.getTime() - 60_000 * now.getTimezoneOffset())
  return local.toISOString().slice(0, 10)
}

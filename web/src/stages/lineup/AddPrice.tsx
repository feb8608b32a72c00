import { type FormEvent, useState } from "react"
import { PriceKind } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { useAddPrice } from "../../api/prices"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

const FLAGS = [
  ["tax_included", "tax included"],
  ["shipping_included", "shipping included"],
  ["paid_link", "affiliate link"],
] as const
const KNOWN = ["amount", "currency", "until"]
type Kind = (typeof PriceKind)[number]

const LINES = [
  { field: "source", label: "Shop or source", most: 120, wide: false },
  { field: "configuration", label: "Configuration", most: 200, wide: true },
  { field: "coupon", label: "Coupon, if any", most: 60, wide: false },
  { field: "region", label: "Region, if any", most: 60, wide: false },
  { field: "note", label: "Note", most: 500, wide: false },
  { field: "link", label: "Link to the offer", most: 480, wide: true },
] as const

/** A price as it is being typed: every field is text, empty where nothing is said. */
function emptyDraft(currency: string) {
  return {
    kind: "street" as Kind,
    amount: "",
    dated: today(),
    unit: currency,
    until: "",
    source: "",
    configuration: "",
    coupon: "",
    region: "",
    note: "",
    link: "",
    tax_included: true,
    shipping_included: false,
    paid_link: false,
  }
}

type Draft = ReturnType<typeof emptyDraft>

/** A price that is there as a draft, to be put right. */
function draftOf(price: Schemas["Price"]): Draft {
  return {
    kind: PriceKind.find((each) => each === price.kind) ?? "street",
    amount: price.amount,
    dated: price.dated,
    unit: price.currency,
    until: price.until ?? "",
    source: price.source ?? "",
    configuration: price.configuration ?? "",
    coupon: price.coupon ?? "",
    region: price.region ?? "",
    note: price.note ?? "",
    link: price.link ?? "",
    tax_included: price.tax_included !== false,
    shipping_included: price.shipping_included === true,
    paid_link: price.paid_link === true,
  }
}

/** What is sent: fields that were left empty are left out. */
function bodyOf({ unit, ...draft }: Draft): Schemas["NewPrice"] {
  const said = Object.entries(draft).filter(([, value]) => value !== "")
  return {
    ...(Object.fromEntries(said) as Omit<Draft, "unit">),
    amount: draft.amount,
    currency: unit.trim().toUpperCase(),
  }
}

/** Adds a price record; earlier ones stay. */
export function AddPrice({
  slug,
  machineId,
  currency,
  corrects,
  focused = false,
  onDone,
}: {
  slug: string
  machineId: string
  /** Of the shootout, three letters. */
  currency: string
  /** The price that the new one will stand for. */
  corrects?: Schemas["Price"]
  /** Whether the amount takes the focus as the form opens. */
  focused?: boolean
  onDone?: () => void
}) {
  const [draft, setDraft] = useState(() => (corrects ? draftOf(corrects) : emptyDraft(currency)))
  const set = (changes: Partial<Draft>) => setDraft((now) => ({ ...now, ...changes }))
  const add = useAddPrice(slug)
  const problem = problemOf(add.error)
  const errorOf = (field: string) => (problem?.field === field ? problem.detail : null)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    // Emptied as it is sent: an amount that is typed meanwhile is the next one.
    setDraft((now) => ({ ...now, amount: "" }))
    const back = () => setDraft((now) => ({ ...now, amount: now.amount || draft.amount }))
    const body = { ...bodyOf(draft), corrects_id: corrects?.id ?? null }
    // Where it is good and by which coupon was of that price, not of the next one.
    const next = () => {
      setDraft((now) => ({ ...now, region: "", coupon: "", until: "" }))
      onDone?.()
    }
    add.mutate({ id: machineId, body }, { onError: back, onSuccess: next })
  }
  return (
    <form onSubmit={submit} className="mt-3 grid grid-cols-2 gap-2">
      <TextField
        label="Price"
        value={draft.amount}
        onText={(amount) => set({ amount })}
        placeholder="1290"
        error={errorOf("amount")}
        autoFocus={focused || corrects !== undefined}
      />
      <ChoiceField
        label="Kind"
        value={draft.kind}
        options={PriceKind.map((each) => ({ value: each, words: each }))}
        onValue={(chosen) => set({ kind: PriceKind.find((each) => each === chosen) ?? "street" })}
      />
      <TextField
        label="Currency"
        value={draft.unit}
        onText={(unit) => set({ unit })}
        maxLength={3}
        error={errorOf("currency")}
      />
      <TextField
        label="Offer until, if any"
        type="date"
        value={draft.until}
        onText={(until) => set({ until })}
        error={errorOf("until")}
      />
      <TextField
        label="Date"
        type="date"
        value={draft.dated}
        onText={(dated) => set({ dated })}
        required
      />
      {LINES.map(({ field, label, most, wide }) => (
        <div key={field} className={wide ? "col-span-2" : "min-w-0"}>
          <TextField
            label={label}
            value={draft[field]}
            onText={(text) => set({ [field]: text })}
            maxLength={most}
          />
        </div>
      ))}
      <Flags draft={draft} onChange={set} />
      {problem && !KNOWN.includes(problem.field ?? "") && <ProblemNote error={add.error} />}
      <ActButton
        type="submit"
        className="btn btn-sm col-span-2"
        needs={!draft.amount.trim() && "Needs an amount."}
      >
        {corrects ? "Save" : "Add price"}
      </ActButton>
    </form>
  )
}

/** What the amount holds, and whether the link to it is paid. */
function Flags({ draft, onChange }: { draft: Draft; onChange: (changes: Partial<Draft>) => void }) {
  return (
    <fieldset className="col-span-2 flex flex-wrap gap-x-3 text-13">
      {FLAGS.map(([flag, words]) => (
        <label key={flag} className="flex items-center gap-1">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={draft[flag]}
            onChange={(event) => onChange({ [flag]: event.target.checked })}
          />
          {words}
        </label>
      ))}
    </fieldset>
  )
}

/** Today where the reviewer is, as a date field has it. */
export function today(): string {
  const now = new Date()
  const local = new Date(now.getTime() - 60_000 * now.getTimezoneOffset())
  return local.toISOString().slice(0, 10)
}

import type { Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import type { Draft } from "./draft"
import { NumberLine } from "./NumberLine"
import { endOf } from "./units"

type Part = {
  draft: Draft
  errorOf: (field: string) => string | null
  set: (changes: Partial<Draft>) => void
}

type Fields = {
  draft: Draft
  errorOf: (field: string) => string | null
  onDraft: (next: Draft) => void
}

/** What everybody is asked first: the machine that they have, and what they can pay. */
export function NowFields({
  setups,
  draft,
  errorOf,
  onDraft,
}: Fields & { setups: Schemas["Setup"][] }) {
  const set = (changes: Partial<Draft>) => onDraft({ ...draft, ...changes })
  return (
    <section aria-label="Now" className="mb-5 space-y-2.5">
      <Owned setups={setups} draft={draft} errorOf={errorOf} set={set} />
      <NumberLine
        label="Budget"
        unit={draft.currency}
        max={endOf(Number(draft.budget ?? 0), 2500)}
        step={10}
        empty
        value={draft.budget}
        error={errorOf("budget")}
        onChange={(budget) => set({ budget })}
      />
    </section>
  )
}

/** What an hour is worth, how long a machine is kept, and where the viewer buys. */
export function MoneyFields({ draft, errorOf, onDraft }: Fields) {
  const set = (changes: Partial<Draft>) => onDraft({ ...draft, ...changes })
  const money = draft.currency
  return (
    <>
      <section aria-label="Money" className="mt-5 space-y-2.5">
        <h2 className="text-14">Money</h2>
        <NumberLine
          label="An hour is worth"
          unit={money}
          max={endOf(Number(draft.hour_value), 60)}
          value={draft.hour_value}
          error={errorOf("hour_value")}
          onChange={(value) => set({ hour_value: value ?? "0" })}
        />
        <NumberLine
          label="Share of the waiting that is lost time"
          hint="0 % if they do something else meanwhile"
          unit="%"
          max={100}
          value={String(Number((100 * draft.attended).toFixed(2)))}
          error={errorOf("attended")}
          onChange={(value) => set({ attended: Number(value ?? 0) / 100 })}
        />
        <NumberLine
          label="Kept for"
          unit="years"
          max={10}
          step={0.5}
          value={String(draft.horizon_years)}
          error={errorOf("horizon_years")}
          onChange={(value) => set({ horizon_years: Number(value ?? 0) })}
        />
        <NumberLine
          label="Working weeks a year"
          unit="weeks"
          max={52}
          value={String(draft.weeks)}
          error={errorOf("weeks")}
          onChange={(value) => set({ weeks: Number(value ?? 0) })}
        />
      </section>
      <WhereTheyBuy draft={draft} errorOf={errorOf} set={set} />
    </>
  )
}

/** What the viewer has now, and what it would bring. */
function Owned({ setups, draft, errorOf, set }: Part & { setups: Schemas["Setup"][] }) {
  return (
    <section aria-label="Has now" className="space-y-2.5">
      <label className="block text-13">
        <span className="mb-0.5 block text-mute">Has now</span>
        <select
          className="select select-sm w-full bg-page"
          value={draft.owned_setup_id ?? ""}
          onChange={(event) => set({ owned_setup_id: event.target.value || null })}
        >
          <option value="">none of these</option>
          {setups.map((setup) => (
            <option key={setup.id} value={setup.id}>
              {setup.label}
            </option>
          ))}
        </select>
      </label>
      {errorOf("owned_setup_id") && (
        <p role="alert" className="text-13 text-accent">
          {errorOf("owned_setup_id")}
        </p>
      )}
      {draft.owned_setup_id && (
        <NumberLine
          label="Resale value"
          unit={draft.currency}
          max={endOf(Number(draft.resale), 500)}
          step={10}
          value={draft.resale}
          error={errorOf("resale")}
          onChange={(value) => set({ resale: value ?? "0" })}
        />
      )}
    </section>
  )
}

/** Currency, region, tax and the price of energy. */
function WhereTheyBuy({ draft, errorOf, set }: Part) {
  return (
    <details
      className="mt-5"
      open={errorOf("currency") !== null || errorOf("tax_percent") !== null || undefined}
    >
      <summary className="text-14 font-bold">Currency, tax, region</summary>
      <div className="mt-2 space-y-2.5">
        <TextField
          label="Currency"
          value={draft.currency}
          maxLength={3}
          error={errorOf("currency")}
          hint="Prices are converted at the rate of their day."
          onText={(text) => set({ currency: text.toUpperCase() })}
        />
        <TextField
          label="Region"
          value={draft.region ?? ""}
          maxLength={60}
          hint="Prices of this region come before those that are good anywhere."
          onText={(text) => set({ region: text || null })}
        />
        <NumberLine
          label="Tax on prices without it"
          unit="%"
          max={30}
          empty
          value={draft.tax_percent}
          error={errorOf("tax_percent")}
          onChange={(value) => set({ tax_percent: value })}
        />
        <NumberLine
          label="A kilowatt-hour costs"
          unit={draft.currency}
          max={1}
          step={0.01}
          empty
          value={draft.energy_price}
          error={errorOf("energy_price")}
          onChange={(value) => set({ energy_price: value })}
        />
      </div>
    </details>
  )
}

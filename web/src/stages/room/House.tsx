import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { PriceKind } from "../../api/choices"
import type { Schemas } from "../../api/client"
import { houseQuery, useChangeHouse } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import { localised, readNumber, readWhole } from "../../theme/format"

/** What every new shootout begins with; those that are there stay as they are. */
export function House() {
  const { data, error } = useQuery(houseQuery)
  return (
    <>
      <ProblemNote error={error} />
      {data && <HouseForm key={data.version} house={data} />}
    </>
  )
}

const percentOf = (text: string) => readNumber(text.replace("%", ""))

function HouseForm({ house }: { house: Schemas["House"] }) {
  const [channel, setChannel] = useState(house.channel ?? "")
  const [disclosure, setDisclosure] = useState(house.disclosure ?? "")
  const [currency, setCurrency] = useState(house.currency)
  const [kind, setKind] = useState(house.price_kind)
  const [sure, setSure] = useState(localised(String(round(100 * house.confidence))))
  const [least, setLeast] = useState(localised(String(round(100 * house.materiality))))
  const [planned, setPlanned] = useState(house.planned_runs?.toString() ?? "")
  const change = useChangeHouse()
  const confidence = percentOf(sure)
  const materiality = percentOf(least)
  const runs = planned.trim() === "" ? null : (readWhole(planned) ?? Number.NaN)
  const good =
    confidence !== null && materiality !== null && (runs === null || Number.isInteger(runs))
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (confidence === null || materiality === null) return
    change.mutate({
      version: house.version,
      channel: channel.trim() || null,
      disclosure: disclosure.trim() || null,
      currency: currency.trim().toUpperCase(),
      price_kind: PriceKind.find((each) => each === kind) ?? "list",
      confidence: confidence / 100,
      materiality: materiality / 100,
      planned_runs: runs,
    })
  }
  return (
    <form onSubmit={submit} className="flex max-w-4xl flex-wrap items-start gap-3">
      <div className="w-56">
        <TextField
          label="Channel, named on pages"
          value={channel}
          onText={setChannel}
          maxLength={120}
        />
      </div>
      <div className="min-w-0 grow basis-72">
        <TextField
          label="What pages say of affiliate links"
          value={disclosure}
          onText={setDisclosure}
          maxLength={500}
          placeholder="Some links to shops are affiliate links: the reviewer gets a share."
        />
      </div>
      <div className="w-full" />
      <div className="w-20">
        <TextField label="Currency" value={currency} onText={setCurrency} maxLength={3} />
      </div>
      <div className="w-36">
        <ChoiceField
          label="Price that counts"
          value={kind}
          options={PriceKind.map((each) => ({ value: each, words: each }))}
          onValue={setKind}
        />
      </div>
      <div className="w-28">
        <TextField
          label="Certainty, %"
          value={sure}
          onText={setSure}
          inputMode="decimal"
          error={confidence === null ? "A number such as 95." : null}
        />
      </div>
      <div className="w-36">
        <TextField
          label="Worth telling from, %"
          value={least}
          onText={setLeast}
          inputMode="decimal"
          error={materiality === null ? "A number such as 3." : null}
        />
      </div>
      <div className="w-28">
        <TextField
          label="Planned runs"
          value={planned}
          onText={setPlanned}
          inputMode="numeric"
          placeholder="no plan"
          error={runs !== null && !Number.isInteger(runs) ? "A whole number." : null}
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-sm mt-5"
        busy={change.isPending}
        needs={!good && "Needs numbers in all fields that can be read."}
      >
        Save
      </ActButton>
      {change.isSuccess && (
        <span {...SPOKEN} className="mt-6 text-13 text-mute">
          Saved: new shootouts and editions go by it.
        </span>
      )}
      <div className="w-full">
        <ProblemNote error={change.error} />
      </div>
    </form>
  )
}

/** Without the dust that a fraction leaves when it is taken times a hundred. */
const round = (value: number) => Number(value.toPrecision(10))

import type { Schemas } from "../../api/client"
import { count, day, money } from "../../theme/format"

/** The price that counts, its kind and date, its history; a way to add one where there is none. */
export function PriceCell({
  column,
  currency,
  priceDate,
  onOpen,
}: {
  column: Schemas["MachineColumn"]
  /** Of the shootout, three letters. */
  currency: string
  /** Day whose prices count, ISO. */
  priceDate: string
  onOpen: () => void
}) {
  const { price, machine } = column
  if (!price) {
    return (
      <button type="button" className="text-accent underline" onClick={onOpen}>
        Add price
      </button>
    )
  }
  const { record } = price
  const offer = machine.prices.find(
    (each) => each.until && each.until >= priceDate && each.id !== record.id,
  )
  return (
    <button type="button" className="block w-full min-w-0 text-left hover:bg-band" onClick={onOpen}>
      <span className="figure block text-20 leading-6 font-bold">
        {money(record.amount)}
        <span className="ml-1.5 text-12 font-normal">{record.currency}</span>
      </span>
      <span className={`block text-13 ${price.stale ? "text-accent" : "text-mute"}`}>
        {record.kind}, {day(record.dated)}
        {price.stale && `: ${count(price.days_old, "day")} old`}
      </span>
      {offer && (
        <span className="block text-13 text-accent">
          offer {money(offer.amount)} to {day(offer.until)}
        </span>
      )}
      {machine.setups.map((setup, place) => (
        <Tested
          key={setup.id}
          name={machine.setups.length > 1 ? setup.name : ""}
          tested={column.tested[place]}
          currency={currency}
        />
      ))}
    </button>
  )
}

/** What a setup cost as tested; shown where it is not just the machine's price. */
function Tested({
  name,
  tested,
  currency,
}: {
  name: string
  tested: Schemas["TestedPrice"] | undefined
  currency: string
}) {
  if (!tested) return null
  if (tested.problem) return <span className="block text-12 text-accent">{tested.problem}</span>
  if (Number(tested.extras) === 0 && !tested.converted) return null
  return (
    <span className="block text-12 text-mute">
      as tested{name && `, ${name}`}: <span className="figure">{money(tested.amount ?? 0)}</span>{" "}
      {currency}
    </span>
  )
}

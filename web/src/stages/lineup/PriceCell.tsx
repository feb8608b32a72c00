import type { Schemas } from "../../api/client"
import { day, money } from "../../theme/format"

/** The price that counts, its kind and date; a way to add one where there is none. */
export function PriceCell({
  column,
  onOpen,
}: {
  column: Schemas["MachineColumn"]
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
  const offer = machine.prices.find((each) => each.until !== null && each.id !== price.id)
  return (
    <button type="button" className="text-left hover:bg-band" onClick={onOpen}>
      <span className="figure block text-[16px] font-bold">
        {money(price.amount)} <span className="text-[12px] font-normal">{price.currency}</span>
      </span>
      <span className="block text-[13px] text-mute">
        {price.kind}, {day(price.dated)}
      </span>
      {offer && (
        <span className="block text-[13px] text-accent">
          {money(offer.amount)} until {day(offer.until)}
        </span>
      )}
    </button>
  )
}

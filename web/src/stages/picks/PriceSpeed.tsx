import type { Schemas } from "../../api/client"
import { useWidth } from "../../parts/useWidth"
import { count, money, ratio } from "../../theme/format"
import { rem } from "../../theme/rem"
import { OverBudget, PriceAxes } from "./PriceAxes"
import { PriceMark, SetupName, SpeedJaw } from "./PriceMark"
import { fieldOf, HEIGHT, mostOf, namesOf, type Priced, pricedRows, stepsOf } from "./priceField"
import { useDrawnPrice } from "./useDrawnPrice"

/**
 * Price against speed: the rule turned upright, so that higher is faster, with the frontier as a
 * stepped line and what the budget does not reach hatched. A mark can be drawn along to try
 * another price.
 */
export function PriceSpeed({
  view,
  budget,
  placeOf,
  onTry,
}: {
  view: Schemas["PickView"]
  budget: number | null
  /** Mark of a setup by id. */
  placeOf: (id: string) => number
  /** Tries a price for a setup. */
  onTry: (row: Schemas["PickRow"], price: number) => void
}) {
  const [box, width] = useWidth(470)
  const { most, drawing } = useDrawnPrice()
  const rows = pricedRows(view.rows)
  const unpriced = view.rows.filter((row) => row.price.amount === null)
  if (rows.length === 0) {
    return (
      <p className="py-8 text-13 text-mute">
        Nothing to draw: no setup that did this work has a price.
      </p>
    )
  }
  const field = fieldOf(rows, most ?? mostOf(rows, budget), width)
  return (
    <div ref={box} className="min-w-0">
      <svg
        viewBox={`0 0 ${width} ${HEIGHT}`}
        width="100%"
        style={{ height: rem(HEIGHT) }}
        className="block touch-pan-y overflow-visible"
        role="img"
        aria-label={finding(view, rows, budget)}
      >
        {budget !== null && budget < field.most && <OverBudget field={field} budget={budget} />}
        <PriceAxes field={field} currency={view.currency} />
        <path d={stepsOf(rows, field)} fill="none" stroke="var(--tm-mute)" strokeWidth="1.5" />
        {rows.map((row) => (
          <SpeedJaw key={row.setup_id} field={field} row={row} />
        ))}
        {namesOf(rows, field).map((name) => (
          <SetupName key={name.id} name={name} />
        ))}
        {rows.map((row) => (
          <PriceMark
            key={row.setup_id}
            field={field}
            row={row}
            mark={placeOf(row.setup_id)}
            currency={view.currency}
            picked={view.picked?.setup_id === row.setup_id}
            drawing={drawing(row.setup_id, field, (price) => onTry(row, price))}
          />
        ))}
      </svg>
      {unpriced.length > 0 && (
        <p className="text-13 text-mute">
          No price, so not drawn: {unpriced.map((row) => row.label).join(", ")}.
        </p>
      )}
    </div>
  )
}

/** What the picture shows, in words: the pick, the budget, and who is over it. */
function finding(view: Schemas["PickView"], rows: Priced[], budget: number | null): string {
  const picked = rows.find((row) => row.setup_id === view.picked?.setup_id)
  const over = budget === null ? [] : rows.filter((row) => row.amount > budget)
  const amount = (value: number) => `${money(value)} ${view.currency}`
  const parts = [
    `Price against speed of ${count(rows.length, "setup")}`,
    picked
      ? `picked: ${picked.label}, ${amount(picked.amount)}, ${ratio(picked.ratio)} times as fast as ${view.reference}`
      : "nothing is picked",
    budget === null ? "" : `the budget ends at ${amount(budget)}`,
    over.length > 0 ? `over it: ${over.map((row) => row.label).join(", ")}` : "",
  ]
  return `${parts.filter(Boolean).join("; ")}.`
}

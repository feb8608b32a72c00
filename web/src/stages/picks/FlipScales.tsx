import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { money } from "../../theme/format"
import { endOf } from "./units"

/**
 * At which price each other setup would be picked: a price scale with the flip price marked in
 * the accent, its interval as a bar, and a handle at the price as it is. Moving the handle tries
 * a price.
 */
export function FlipScales({
  view,
  placeOf,
  onTry,
}: {
  view: Schemas["PickView"]
  placeOf: (id: string) => number
  onTry: (row: Schemas["PickRow"], price: number) => void
}) {
  const rows = view.rows.filter((row) => row.flip !== null)
  if (rows.length === 0) return null
  const most = endOf(
    Math.max(...rows.map((row) => Number(row.price.amount ?? row.flip?.price ?? 0))) / 2.2,
    100,
  )
  const part = (price: number) => `${Math.min(100, (100 * price) / most).toFixed(2)}%`
  return (
    <section aria-label="What would change this pick" className="mt-2">
      <p className="mb-1 text-12 text-mute">If one price changed alone:</p>
      <ul className="space-y-2">
        {rows.map((row) => {
          const flip = row.flip
          const [at, lo, hi] = [flip?.price, flip?.lo, flip?.hi].map((each) =>
            each === null || each === undefined ? null : Number(each),
          )
          return (
            <li key={row.setup_id}>
              <p className="flex items-center gap-1.5 text-13 leading-4">
                <SetupMark index={placeOf(row.setup_id)} size={11} />
                <span className="font-semibold">{row.label}</span>
                <span className="figure ml-auto text-12" title={flip?.words}>
                  {flip?.short}
                </span>
              </p>
              <div className="relative h-5">
                {lo !== null && hi !== null && lo !== undefined && hi !== undefined && (
                  <span
                    aria-hidden="true"
                    className="absolute top-[7px] h-[6px] bg-accent/25"
                    style={{ left: part(lo), width: `calc(${part(hi)} - ${part(lo)})` }}
                  />
                )}
                {at !== null && at !== undefined && !flip?.endless && (
                  <span
                    aria-hidden="true"
                    className="absolute top-0 h-5 w-[2px] bg-accent"
                    style={{ left: part(at) }}
                  />
                )}
                <input
                  type="range"
                  className="picks-slider absolute inset-x-0 top-0"
                  aria-label={`Price of ${row.label}`}
                  aria-valuetext={`${row.price.amount === null ? "no price" : `${money(row.price.amount)} ${view.currency}`}; ${flip?.words}`}
                  min={0}
                  max={most}
                  step={10}
                  value={Math.min(Number(row.price.amount ?? most), most)}
                  onChange={(event) => onTry(row, Number(event.target.value))}
                />
              </div>
            </li>
          )
        })}
      </ul>
    </section>
  )
}

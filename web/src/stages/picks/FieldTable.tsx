import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { money, plain, ratio } from "../../theme/format"
import { inHundred } from "./ViewerStrip"

/** Every setup behind the pick: price, speed, value, what beats it, why it is out. */
export function FieldTable({
  view,
  placeOf,
}: {
  view: Schemas["PickView"]
  placeOf: (id: string) => number
}) {
  const weekly = view.rows.some((row) => row.hours !== null)
  return (
    <div className="overflow-x-auto">
      <table className="w-full min-w-160 text-13">
        <thead className="text-left text-mute">
          <tr>
            <th scope="col" className="py-1 pr-3 font-normal">
              Setup
            </th>
            <th scope="col" className="pr-3 text-right font-normal">
              price, {view.currency}
            </th>
            <th scope="col" className="pr-3 font-normal">
              kind and date
            </th>
            <th scope="col" className="pr-3 text-right font-normal">
              times {view.reference ? `as fast as ${view.reference}` : ""}
            </th>
            {weekly && (
              <th scope="col" className="pr-3 text-right font-normal">
                export hours a week
              </th>
            )}
            <th scope="col" className="pr-3 text-right font-normal">
              value
            </th>
            <th scope="col" className="pr-3 text-right font-normal">
              unbeaten on price and speed
            </th>
            <th scope="col" className="font-normal">
              why not, and what would change that
            </th>
          </tr>
        </thead>
        <tbody>
          {view.rows.map((row) => (
            <SetupRow
              key={row.setup_id}
              row={row}
              picked={row.setup_id === view.picked?.setup_id}
              weekly={weekly}
              place={placeOf(row.setup_id)}
            />
          ))}
        </tbody>
      </table>
      {view.off.length > 0 && (
        <section className="mt-4 text-13">
          <h3>Left out (not tested on all of this work)</h3>
          <ul>
            {view.off.map((row) => (
              <li key={row.setup_id} className="border-t border-line py-1">
                <span className="font-semibold">{row.label}</span>{" "}
                <span className="text-mute">{row.reason}</span>
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

/** One setup of the table. */
function SetupRow({
  row,
  picked,
  weekly,
  place,
}: {
  row: Schemas["PickRow"]
  picked: boolean
  weekly: boolean
  place: number
}) {
  return (
    <tr className={`border-t border-line align-top ${picked ? "bg-pick" : ""}`}>
      <th scope="row" className="py-1 pr-3 text-left font-semibold">
        <span className="flex items-center gap-1.5">
          <SetupMark index={place} size={11} />
          {row.label}
        </span>
        {row.samples.length > 0 && (
          <span className="block text-12 font-normal text-mute">
            mean of {row.samples.join(", ")}
          </span>
        )}
      </th>
      <td className="figure pr-3 text-right">
        {row.price.amount === null ? "–" : money(row.price.amount)}
      </td>
      <td className="pr-3 text-mute">
        {row.price.problem ?? row.price.basis}
        {row.price.stale && " · over 30 days old"}
        {row.price.tried && row.price.stored !== null && (
          <span className="text-accent"> (stored: {money(row.price.stored)})</span>
        )}
      </td>
      <td className="figure pr-3 text-right whitespace-nowrap">
        {ratio(row.ratio)}
        {row.lo !== row.hi && (
          <span className="block text-11 text-mute">
            {ratio(row.lo)}–{ratio(row.hi)}
          </span>
        )}
      </td>
      {weekly && (
        <td className="figure pr-3 text-right">{row.hours && plain(row.hours.value, 2)}</td>
      )}
      <td className="figure pr-3 text-right whitespace-nowrap">
        {row.value ? ratio(row.value.value) : "–"}
        {row.value && row.value.lo !== row.value.hi && (
          <span className="block text-11 text-mute">
            {ratio(row.value.lo)}–{ratio(row.value.hi)}
          </span>
        )}
      </td>
      <td className="figure pr-3 text-right whitespace-nowrap">
        {row.price.amount === null ? "–" : inHundred(row.p_frontier)}
      </td>
      <td className="min-w-40">
        {row.why && <span className="block">{row.why}</span>}
        {row.flip && <span className="block">{row.flip.words}</span>}
        {row.same_money && <span className="block text-mute">{row.same_money}</span>}
      </td>
    </tr>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { PriceKind } from "../../api/choices"
import type { Schemas } from "../../api/client"
import { ratesQuery } from "../../api/prices"
import { useSeries } from "../../parts/FromRoom"
import { useReading } from "../../parts/Reading"
import { day, localised } from "../../theme/format"

/** The rates that convert prices in other currencies. */
function Rates({ on }: { on: string }) {
  const { data } = useQuery(ratesQuery(on))
  const from = data?.simulated ? "simulated rates" : `the rates of ${data?.name}`
  return (
    <details className="text-13 text-mute">
      <summary className="cursor-pointer">
        {data && !data.name ? "no rates for other currencies" : `other currencies by ${from}`}
      </summary>
      {data && !data.name && <p>Nobody named any (TRUE_MARGIN_RATES), so none are converted.</p>}
      {data?.problem && <p>Not asked again since: {data.problem}</p>}
      <ul>
        {data?.rates.map(({ currency, dated, per_eur }) => (
          <li key={currency}>
            1 EUR = <span className="figure">{localised(per_eur)}</span> {currency}, {day(dated)}
          </li>
        ))}
      </ul>
    </details>
  )
}

/** The shootouts that go on from each other, oldest first. */
export function Series({ slug }: { slug: string }) {
  const series = useSeries(slug)
  if (series.length === 0) return null
  return (
    <p className="mt-2">
      Series:{" "}
      {series.map((each, place) => (
        <span key={each.slug}>
          {place > 0 && ", then "}
          {each.here ? (
            <strong>{each.name}</strong>
          ) : (
            <Link to="/s/$slug/margins" params={{ slug: each.slug }} className="underline">
              {each.name}
            </Link>
          )}
        </span>
      ))}
    </p>
  )
}

/** Currency, day and kind of the prices that count. */
export function Prices({
  shootout,
  onChange,
}: {
  shootout: Schemas["Shootout"]
  onChange: (changes: Omit<Schemas["ShootoutChange"], "version">) => void
}) {
  const reading = useReading()
  return (
    <dd className="flex flex-wrap items-center gap-x-3 border-b border-line py-1 pl-1">
      {shootout.currency} on
      <input
        type="date"
        aria-label="Price date"
        disabled={reading}
        required
        className="border-b border-line bg-transparent"
        value={shootout.price_date}
        onChange={(event) => {
          if (event.target.value) onChange({ price_date: event.target.value })
        }}
      />
      <select
        aria-label="Kind of price that is preferred"
        disabled={reading}
        className="bg-transparent"
        value={shootout.price_kind}
        onChange={(event) => {
          const kind = PriceKind.find((each) => each === event.target.value)
          if (kind) onChange({ price_kind: kind })
        }}
      >
        {PriceKind.map((kind) => (
          <option key={kind} value={kind}>
            preferring {kind} prices
          </option>
        ))}
      </select>
      <Rates on={shootout.price_date} />
    </dd>
  )
}

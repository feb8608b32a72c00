import type { Schemas } from "../../api/client"
import { plain } from "../../theme/format"

/** What the pick saves against the current machine: three figures, their intervals below. */
export function Figures({
  upgrade,
  owned,
  currency,
}: {
  upgrade: Schemas["UpgradeView"]
  /** Name of the current machine. */
  owned: string
  currency: string
}) {
  const { saved_year: hours, worth_year: worth, words } = upgrade
  const pays = words.payback_short
  return (
    <section aria-label={`Compared with ${owned}`} className="mt-4">
      <h3 className="text-13 font-normal text-mute">Compared with {owned}</h3>
      <ul className="picks-figures">
        <Figure
          value={inHours(hours.value)}
          what="saved a year"
          below={`${inHours(hours.lo)} to ${inHours(hours.hi)}`}
        />
        <Figure
          value={pays}
          what={upgrade.payback_weeks === null ? "pays for itself" : "to pay for itself"}
          below={words.payback_span}
        />
        <Figure
          value={`${plain(worth.value, 0)}\u00a0${currency}`}
          what="a year"
          below={`${plain(worth.lo, 0)} to ${plain(worth.hi, 0)}`}
        />
      </ul>
    </section>
  )
}

function Figure({ value, what, below }: { value: string; what: string; below: string }) {
  return (
    <li className="min-w-0">
      <strong className="figure block text-16 leading-6 tracking-tight whitespace-nowrap">
        {value}
      </strong>
      <span className="block text-13 leading-4">{what}</span>
      <span className="mt-0.5 block text-12 leading-4 text-mute">{below}</span>
    </li>
  )
}

/** Hours as one says them: minutes below one, no decimals where there are many. */
function inHours(hours: number): string {
  if (Math.abs(hours) < 1) return `${plain(60 * hours, 0)}\u00a0min`
  return `${plain(hours, Math.abs(hours) >= 10 ? 0 : 1)}\u00a0h`
}

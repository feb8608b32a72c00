import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { MISSING, money, plain } from "../../theme/format"

/** What was observed beside the money; never added up into one figure. */
export function BesideTable({
  view,
  placeOf,
}: {
  view: Schemas["PickView"]
  placeOf: (id: string) => number
}) {
  const number = (value: number | null, digits = 0, unit = "") =>
    value === null ? MISSING : `${plain(value, digits)}${unit}`
  return (
    <div className="overflow-x-auto">
      <table className="w-full min-w-170 text-13">
        <thead className="text-left text-mute">
          <tr>
            {[
              "Setup",
              "peak heat",
              "noise",
              "power",
              "energy a week",
              "energy a year",
              "failed",
              "playback held",
              "weight",
            ].map((head) => (
              <th scope="col" key={head} className="py-1 pr-3 font-normal">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {view.rows.map((row) => {
            const seen = row.observed
            return (
              <tr key={row.setup_id} className="border-t border-line">
                <th scope="row" className="py-1 pr-3 text-left font-semibold">
                  <span className="flex items-center gap-1.5">
                    <SetupMark index={placeOf(row.setup_id)} size={11} />
                    {row.label}
                  </span>
                </th>
                <td className="figure pr-3">{number(seen.peak_c, 0, " °C")}</td>
                <td className="pr-3">
                  {[seen.noise_db === null ? null : `${plain(seen.noise_db)} dB`, seen.noise_class]
                    .filter(Boolean)
                    .join(", ") || MISSING}
                </td>
                <td className="figure pr-3">{number(seen.power_w, 0, " W")}</td>
                <td className="figure pr-3">
                  {number(seen.energy_kwh, 2, " kWh")}
                  {seen.energy_on && (
                    <span className="block text-11 text-mute">{seen.energy_on}</span>
                  )}
                </td>
                <td className="figure pr-3">
                  {seen.energy_cost === null
                    ? MISSING
                    : `${money(seen.energy_cost)} ${view.currency}`}
                </td>
                <td className="pr-3">
                  {seen.tried === 0 ? MISSING : `${seen.failed} of ${seen.tried}`}
                </td>
                <td className="pr-3">{seen.playback ?? MISSING}</td>
                <td className="figure">{number(seen.weight_kg, 1, " kg")}</td>
              </tr>
            )
          })}
        </tbody>
      </table>
      <p className="mt-2 max-w-2xl text-13 text-mute">
        Observations stand beside the money. None of them is mixed into the pick; what a viewer
        cannot do without is a need.
      </p>
    </div>
  )
}

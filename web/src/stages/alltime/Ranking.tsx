import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { plain } from "../../theme/format"

/** The picture in figures: rank, machine, what it takes now, and since when that is known. */
export function Ranking({ view }: { view: Schemas["AllTimeView"] }) {
  const newest = view.versions.at(-1)?.name ?? ""
  const ranked = view.lines.filter((line) => line.value !== null)
  return (
    <section className="mt-6 max-w-3xl">
      <h2 className="mb-1 text-17">
        The ranking as of {view.app} {newest}
      </h2>
      <table className="w-full text-left text-14">
        <thead className="text-12 text-mute">
          <tr className="border-b border-base-content">
            <th className="py-1 pr-2 font-normal">Rank</th>
            <th className="py-1 pr-2 font-normal">Machine</th>
            <th className="py-1 pr-2 text-right font-normal">Now</th>
            <th className="py-1 pr-2 text-right font-normal max-sm:hidden">
              {plain(100 * view.confidence, 0)} % interval
            </th>
            <th className="py-1 font-normal">From</th>
          </tr>
        </thead>
        <tbody>
          {ranked.map((line) => (
            <tr key={line.label} className="border-b border-line">
              <td className="figure py-1 pr-2 whitespace-nowrap">{ranksOf(line.ranks)}</td>
              <th scope="row" className="py-1 pr-2 font-normal">
                <span className="flex items-center gap-2">
                  <SetupMark index={line.mark} />
                  <span className="min-w-0 break-words">{line.label}</span>
                </span>
              </th>
              <td
                className={`figure py-1 pr-2 text-right whitespace-nowrap ${line.carried ? "" : "font-bold"}`}
              >
                {line.carried ? `≈ ${line.shown}` : line.shown}
              </td>
              <td className="figure py-1 pr-2 text-right whitespace-nowrap text-mute max-sm:hidden">
                {line.range}
              </td>
              <td className="py-1 text-13 text-mute">
                {line.carried ? `${line.timed_in}, ↻ ${line.carried}` : line.timed_in}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {ranked.some((line) => line.carried) && (
        <p className="mt-2 text-13 text-mute">
          ≈ is an estimate: not timed in {newest}. ↻ is how many updates came since it was timed.
        </p>
      )}
    </section>
  )
}

function ranksOf([best, worst]: number[]): string {
  return best === worst ? String(best) : `${best} to ${worst}`
}

/** Who was best in each version, by the runs and the prices of then. */
export function BestOfEach({ view }: { view: Schemas["AllTimeView"] }) {
  if (view.best.length < 2) return null
  const priced = view.best.some((each) => each.value !== null)
  return (
    <section className="mt-6 max-w-3xl">
      <h2 className="mb-1 text-17">The best of each version</h2>
      <table className="w-full text-left text-14">
        <thead className="text-12 text-mute">
          <tr className="border-b border-base-content">
            <th className="py-1 pr-3 font-normal">{view.app}</th>
            <th className="py-1 pr-3 font-normal">
              {view.measure === "time" ? "Fastest" : "Highest"}
            </th>
            {priced && <th className="py-1 font-normal">Most speed for its money</th>}
          </tr>
        </thead>
        <tbody>
          {view.best.map((each) => (
            <tr key={each.version} className="border-b border-line align-baseline">
              <th scope="row" className="py-1 pr-3 font-bold whitespace-nowrap">
                {each.version}
              </th>
              <td className="py-1 pr-3">{each.fastest}</td>
              {priced && (
                <td className="py-1">
                  {each.value ?? <span className="text-mute">no two prices of then</span>}
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"

type Matrix = Schemas["FairMatrix"]
type Cell = Schemas["FairCell"]

/** What a cell says to whoever does not see its sign. */
const ALOUD: Record<string, string> = {
  same: "same as the baseline",
  unknown: "not noted",
  breaks: "not comparable",
  muddies: "could affect the times",
  allowed: "expected",
}

/** Each condition that could matter, for each setup: the same as the baseline, or what it is. */
export function FairMatrix({
  slug,
  matrix,
  baseline,
}: {
  slug: string
  matrix: Matrix
  baseline: string
}) {
  const placeOf = useSetupPlaces(slug)
  const groups = [
    { title: "Did they do the same job?", rows: matrix.rows.filter((row) => row.job) },
    { title: "Under the same conditions?", rows: matrix.rows.filter((row) => !row.job) },
  ].filter((group) => group.rows.length > 0)
  return (
    <div className="relative mt-4 overflow-x-auto">
      <table className="fair-matrix w-full border-collapse text-13">
        <caption className="sr-only">Conditions of each setup against {baseline}</caption>
        <thead>
          <tr className="align-bottom">
            <td />
            <th scope="col" className="py-1 pr-3 text-left">
              {baseline}
              <span className="block text-12 font-normal text-mute">baseline</span>
            </th>
            {matrix.labels.map((label, at) => (
              <th key={matrix.setup_ids[at]} scope="col" className="px-1 py-1 text-left">
                <span className="flex items-start gap-1">
                  <SetupMark index={placeOf(matrix.setup_ids[at] ?? "")} size={11} />
                  <span className="min-w-0 leading-4">{label}</span>
                </span>
              </th>
            ))}
          </tr>
        </thead>
        {groups.map((group) => (
          <tbody key={group.title}>
            <tr className="border-t border-base-content">
              <th
                scope="rowgroup"
                colSpan={matrix.labels.length + 2}
                className="pt-2 pb-1 text-left"
              >
                {group.title}
              </th>
            </tr>
            {group.rows.map((row) => (
              <tr key={row.title} className="border-t border-line">
                <th scope="row" className="py-1 pr-3 text-left font-normal whitespace-nowrap">
                  {row.title}
                </th>
                <td className="pr-3 text-mute">{row.base || "–"}</td>
                {row.cells.map((cell) => (
                  <td key={cell.setup_id} className="px-1" title={cell.full || undefined}>
                    <Sign cell={cell} />
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        ))}
      </table>
      <p className="mt-2 flex flex-wrap gap-x-4 text-12 text-mute">
        <span>✓ same as the baseline</span>
        <span>
          <span className="fair-caveat">value</span> could affect the times
        </span>
        <span>
          <s className="text-accent">value</s> not comparable
        </span>
        <span>plain value: expected</span>
        <span>– not noted</span>
      </p>
    </div>
  )
}

function Sign({ cell }: { cell: Cell }) {
  const aloud = <span className="sr-only"> {ALOUD[cell.state]}</span>
  if (cell.state === "same")
    return (
      <span>
        <span aria-hidden="true">✓</span>
        {aloud}
      </span>
    )
  if (cell.state === "unknown")
    return (
      <span className="text-mute">
        <span aria-hidden="true">–</span>
        {aloud}
      </span>
    )
  if (cell.state === "muddies")
    return (
      <span className="fair-caveat">
        {cell.words}
        {aloud}
      </span>
    )
  if (cell.state === "breaks")
    return (
      <s className="text-accent">
        {cell.words}
        {aloud}
      </s>
    )
  return (
    <span className="text-mute">
      {cell.words}
      {aloud}
    </span>
  )
}

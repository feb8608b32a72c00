import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { labelOf, RESULT } from "../../api/labels"
import { allPairsQuery } from "../../api/margins"
import { ProblemNote } from "../../parts/ProblemNote"
import { CallLegend } from "../../parts/rule/CallLegend"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { count, ratio } from "../../theme/format"

type Cell = Schemas["PairCell"]

/** A triangle of calls: each setup against all that are faster than it. */
export function AllPairs({
  slug,
  task,
  onPair,
}: {
  slug: string
  task: string
  onPair: (a: string, b: string) => void
}) {
  const { data, error } = useQuery(allPairsQuery(slug, task))
  const placeOf = useSetupPlaces(slug)
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Loading…</p>
  const [first, ...rest] = data.rows
  if (first === undefined || rest.length === 0) {
    return <p>Time a second machine to compare two.</p>
  }
  const columns = data.rows.slice(0, -1)
  return (
    <>
      <p className="mb-3">{summary(data.counts)}</p>
      <div className="overflow-x-auto">
        <table className="border-collapse text-13">
          <thead>
            <tr>
              <th scope="col" className="pr-3 pb-1 text-left align-bottom font-normal text-mute">
                ↓ slower · faster →
              </th>
              {columns.map((column) => (
                <th key={column.setup_id} className="px-1 pb-1 align-bottom" scope="col">
                  <span className="flex flex-col items-center gap-1">
                    <span className="rotate-180 [writing-mode:vertical-rl]">{column.label}</span>
                    <SetupMark index={placeOf(column.setup_id)} />
                  </span>
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rest.map((row) => (
              <tr key={row.setup_id} className="border-t border-line">
                <th scope="row" className="py-1 pr-3 text-left whitespace-nowrap">
                  <span className="flex items-center gap-2">
                    <SetupMark index={placeOf(row.setup_id)} />
                    {row.label}
                  </span>
                </th>
                {row.cells.map((cell, place) => {
                  const column = columns[place]
                  return column === undefined ? null : (
                    <td key={column.setup_id} className="p-0.5">
                      <PairButton
                        cell={cell}
                        label={`${column.label} compared with ${row.label}`}
                        onClick={() => onPair(column.setup_id, row.setup_id)}
                      />
                    </td>
                  )
                })}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      <p className="mt-2 mb-3 text-13 text-mute">
        Each cell: how many times as fast the machine above is as the one at left. Click for
        details.
      </p>
      <CallLegend />
    </>
  )
}

const WORD_ORDER = ["clear", "ahead", "level", "open", "not comparable"]

function summary(counts: Record<string, number>): string {
  const parts = WORD_ORDER.filter((call) => counts[call]).map(
    (call) => `${counts[call]} ${labelOf(RESULT, call)}`,
  )
  const all = Object.values(counts).reduce((sum, each) => sum + each, 0)
  return `${count(all, "pair")}: ${parts.join(", ")}.`
}

/** Fill and edge say the call, as the jaws do. */
const LOOK: Record<string, string> = {
  clear: "bg-base-content text-base-100 border-base-content",
  ahead: "hatched border-base-content",
  level: "border-mute text-mute",
  open: "border-dashed border-base-content",
  "not comparable": "border-transparent text-mute",
}

function PairButton({ cell, label, onClick }: { cell: Cell; label: string; onClick: () => void }) {
  const known = cell.ratio !== null
  const said = known
    ? `${label}: ${ratio(cell.ratio)} times as fast, ${ratio(cell.lo)} to ${ratio(cell.hi)}, ${labelOf(RESULT, cell.call)}`
    : `${label}: not comparable`
  return (
    <button
      type="button"
      className={`figure h-8 w-16 border ${LOOK[cell.call] ?? ""}`}
      aria-label={said}
      title={said}
      onClick={onClick}
    >
      <span className={cell.call === "ahead" ? "bg-page px-0.5" : ""}>
        {known ? ratio(cell.ratio) : "–"}
      </span>
    </button>
  )
}

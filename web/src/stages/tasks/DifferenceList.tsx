import { useQuery } from "@tanstack/react-query"
import { differenceQuery } from "../../api/queries"
import { ProblemNote } from "../../parts/ProblemNote"

/** What is in one file and not in the other, side by side, in words with timecodes. */
export function DifferenceList({
  timelineId,
  reference,
  file,
}: {
  timelineId: string
  reference: string
  file: string
}) {
  const { data, error } = useQuery(differenceQuery(timelineId, reference, file))
  if (error) return <ProblemNote error={error} />
  if (!data) return <p className="mt-3 text-mute">Comparing…</p>
  return (
    <div className="mt-3 overflow-x-auto">
      <table className="w-full border-collapse text-13" aria-label="Differences">
        <thead>
          <tr className="border-b border-base-content text-left text-mute">
            <th scope="col" className="py-1 pr-3 font-normal">
              what
            </th>
            <th scope="col" className="py-1 pr-3 font-normal">
              {data.here}
            </th>
            <th scope="col" className="py-1 font-normal">
              {data.there}
            </th>
          </tr>
        </thead>
        <tbody>
          {data.rows.map((row) => (
            <tr
              key={`${row.track} ${row.at} ${row.name} ${row.change}`}
              className="border-b border-line align-top"
            >
              <td className="py-1 pr-3">
                <strong className="break-all">{row.name}</strong> {row.change}
                <span className="block text-mute">
                  {row.track > 0 && `track ${row.track}, `}
                  {row.at}
                </span>
              </td>
              <td className="py-1 pr-3">{row.here}</td>
              <td className="py-1">{row.there}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {data.more > 0 && <p className="text-mute">and {data.more} more differences</p>}
    </div>
  )
}

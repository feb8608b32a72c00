import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { registerQuery } from "../../api/room"
import { Fold } from "../../parts/Fold"
import { ProblemNote } from "../../parts/ProblemNote"
import { count, day } from "../../theme/format"

const MOST = 12

/** Every figure that left the house with an edition; what would read otherwise now comes first. */
export function Register({ slug }: { slug: string }) {
  const { data: rows, error } = useQuery(registerQuery(slug))
  const [all, setAll] = useState(false)
  const moved = rows?.filter((row) => !row.holds).length ?? 0
  if (error) return <ProblemNote error={error} />
  if (!rows?.length) return null
  const shown = all ? rows : rows.slice(0, Math.max(MOST, moved))
  return (
    <Fold
      title={
        moved === 0
          ? `${count(rows.length, "published figure")}: all hold`
          : `${count(rows.length, "published figure")}: ${moved} would read otherwise now`
      }
    >
      <table className="w-full max-w-4xl text-left text-13">
        <thead className="text-mute">
          <tr className="border-b border-base-content">
            <th className="py-1 pr-3 font-normal">Figure</th>
            <th className="py-1 pr-3 text-right font-normal">Published</th>
            <th className="py-1 pr-3 text-right font-normal">Now</th>
            <th className="py-1 font-normal max-sm:hidden">Edition</th>
          </tr>
        </thead>
        <tbody>
          {shown.map((row) => (
            <tr key={`${row.task} ${row.label}`} className="border-b border-line">
              <th scope="row" className="py-1 pr-3 font-normal">
                {row.label} <span className="text-mute">{row.task}</span>
                {row.earlier.length > 0 && (
                  <span className="block text-mute">{row.earlier.join(", ")}</span>
                )}
              </th>
              <td className="figure py-1 pr-3 text-right whitespace-nowrap">{row.shown}</td>
              <td
                className={`figure py-1 pr-3 text-right whitespace-nowrap ${row.holds ? "" : "font-bold text-accent"}`}
              >
                {row.holds ? "the same" : (row.now ?? "not known any more")}
              </td>
              <td className="py-1 whitespace-nowrap text-mute max-sm:hidden">
                {row.edition}, {day(row.published_at.slice(0, 10))}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {shown.length < rows.length && (
        <button type="button" className="btn btn-sm mt-2" onClick={() => setAll(true)}>
          Show all {rows.length}
        </button>
      )}
    </Fold>
  )
}

import { useState } from "react"
import { useArchiveShootout } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ProblemNote } from "../../parts/ProblemNote"
import { count, day } from "../../theme/format"
import { Found } from "./Found"
import { ShelfRow } from "./ShelfRow"

type Line = Schemas["ShelfLine"]

const SORTS = {
  open: "what is open first",
  worked: "last worked on first",
  name: "by name",
} as const
type Sort = keyof typeof SORTS
const FILTERS = ["All", "Need you", "Published", "Archived"] as const
type Filter = (typeof FILTERS)[number]

/** The shelf: each shootout with its answer and what is open in it. */
export function OnShelf({
  all,
  archived,
  owns,
}: {
  all: Line[]
  archived: Schemas["Shootout"][]
  /** Whether one may put a shootout into the archive, and take it out. */
  owns: (shootoutId: string) => boolean
}) {
  const [wanted, setWanted] = useState("")
  const [filter, setFilter] = useState<Filter>("All")
  const [sort, setSort] = useState<Sort>("open")
  const archive = useArchiveShootout()
  const need = all.filter((line) => line.needs_you)
  const published = all.filter((line) => line.edition !== null)
  const of: Record<Exclude<Filter, "Archived">, Line[]> = {
    All: all,
    "Need you": need,
    Published: published,
  }
  const counts: Record<Filter, number> = {
    All: all.length,
    "Need you": need.length,
    Published: published.length,
    Archived: archived.length,
  }
  const found = filter === "Archived" ? [] : sorted(of[filter], sort).filter(says(wanted))
  const put = (slug: string, away: boolean) => archive.mutate({ slug, archived: away })
  return (
    <section aria-label="Shootouts" className="min-w-0">
      <div className="flex flex-wrap items-end gap-x-6 gap-y-2">
        <h1 className="flex-1 text-26 leading-8 whitespace-nowrap">
          {count(all.length, "shootout")}
          {need.length > 0 && `, ${need.length} ${need.length === 1 ? "needs" : "need"} you`}
        </h1>
        <input
          type="search"
          aria-label="Search shootouts"
          placeholder="Search machines, tasks, answers, figures"
          className="input input-sm w-72 max-w-full bg-page"
          value={wanted}
          onChange={(event) => setWanted(event.target.value)}
        />
      </div>
      <div className="mt-3 flex flex-wrap items-center gap-x-5 gap-y-1 border-b border-line pb-2 text-13">
        {FILTERS.map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={filter === each}
            className={`min-h-7 ${filter === each ? "font-bold underline underline-offset-4" : "text-mute"}`}
            onClick={() => setFilter(each)}
          >
            {each} {counts[each]}
          </button>
        ))}
        <select
          aria-label="Order"
          className="ml-auto cursor-pointer bg-transparent text-mute"
          value={sort}
          onChange={(event) => setSort(event.target.value as Sort)}
        >
          {Object.entries(SORTS).map(([key, words]) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </select>
      </div>
      <ul>
        {found.map((line) => (
          <ShelfRow
            key={line.shootout.id}
            line={line}
            onArchive={owns(line.shootout.id) ? () => put(line.shootout.slug, true) : undefined}
          />
        ))}
        {filter === "Archived" &&
          archived.map((each) => (
            <li key={each.id} className="flex items-center gap-3 border-b border-line py-2">
              <span className="min-w-0 flex-1 break-words">
                {each.name}{" "}
                <span className="text-13 text-mute">
                  archived {day(each.archived_at?.slice(0, 10))}
                </span>
              </span>
              {owns(each.id) && (
                <button
                  type="button"
                  className="btn btn-xs"
                  aria-label={`Restore ${each.name}`}
                  onClick={() => put(each.slug, false)}
                >
                  Restore
                </button>
              )}
            </li>
          ))}
        {found.length === 0 && (filter !== "Archived" || archived.length === 0) && (
          <li className="py-4 text-mute">
            {wanted.trim() ? `Nothing on the shelf says “${wanted.trim()}”.` : "None."}
          </li>
        )}
      </ul>
      <ProblemNote error={archive.error} />
      <Found wanted={wanted} />
    </section>
  )
}

const plain = (text: string) => text.toLocaleLowerCase().normalize("NFD").replace(/\p{M}/gu, "")

/** Whether a line says all of the words that are looked for. */
function says(wanted: string): (line: Line) => boolean {
  const words = plain(wanted).split(/\s+/).filter(Boolean)
  return (line) => {
    const text = plain([line.shootout.name, line.answer, ...line.waiting, line.facts].join(" "))
    return words.every((word) => text.includes(word))
  }
}

function sorted(lines: Line[], sort: Sort): Line[] {
  // The list comes with the one worked on last first, and sorting keeps that order among equals.
  if (sort === "name") {
    return [...lines].sort((a, b) => a.shootout.name.localeCompare(b.shootout.name))
  }
  if (sort === "open") return [...lines].sort((a, b) => Number(b.needs_you) - Number(a.needs_you))
  return lines
}

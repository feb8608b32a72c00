import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useEffect, useState } from "react"
import type { Schemas } from "../../api/client"
import { searchQuery } from "../../api/room"
import { ProblemNote } from "../../parts/ProblemNote"
import { day } from "../../theme/format"

type Hit = Schemas["SearchHit"]

const KINDS = [
  { kind: "figure", words: "Published figures", to: "/s/$slug/publish", view: "public" },
  { kind: "line", words: "Lines of scripts", to: "/s/$slug/publish", view: "script" },
  { kind: "machine", words: "Machines", to: "/s/$slug/lineup", view: undefined },
  { kind: "task", words: "Tasks", to: "/s/$slug/tasks", view: undefined },
] as const
const LEAST = 2
const PAUSE_MS = 150

/** What else says the words that are looked for: machines, tasks, lines and published figures. */
export function Found({ wanted }: { wanted: string }) {
  const asked = usePause(wanted.trim())
  const { data, error } = useQuery(searchQuery(asked, asked.length >= LEAST))
  if (asked.length < LEAST) return null
  return (
    <section aria-label="Found inside shootouts" className="mt-6">
      <ProblemNote error={error} />
      {data?.length === 0 && (
        <p className="text-13 text-mute">
          No machine, task, line or published figure says “{asked}”.
        </p>
      )}
      {KINDS.map((kind) => {
        const hits = data?.filter((hit) => hit.kind === kind.kind) ?? []
        return hits.length === 0 ? null : (
          <div key={kind.kind} className="mb-4">
            <h2 className="text-15">{kind.words}</h2>
            <ul className="border-t border-line">
              {hits.map((hit, place) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two hits may say the same
                <FoundRow key={place} hit={hit} to={kind.to} view={kind.view} />
              ))}
            </ul>
          </div>
        )
      })}
    </section>
  )
}

function FoundRow({
  hit,
  to,
  view,
}: {
  hit: Hit
  to: (typeof KINDS)[number]["to"]
  view: string | undefined
}) {
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 border-b border-line py-1 text-13">
      <Link
        to={to}
        params={{ slug: hit.slug }}
        search={view ? { view } : {}}
        className="min-w-0 flex-1 break-words underline"
      >
        {hit.text}
      </Link>
      <span className={hit.kind === "figure" ? "figure font-bold" : "text-mute"}>{hit.more}</span>
      <span className="text-mute">
        {hit.shootout}
        {hit.at && `, ${day(hit.at.slice(0, 10))}`}
      </span>
    </li>
  )
}

/** A text once nobody has typed for a moment. */
function usePause(text: string): string {
  const [kept, setKept] = useState(text)
  useEffect(() => {
    const waits = setTimeout(() => setKept(text), PAUSE_MS)
    return () => clearTimeout(waits)
  }, [text])
  return kept
}

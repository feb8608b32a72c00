import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useEffect, useState } from "react"
import { useArchiveShootout } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { meQuery } from "../../api/people"
import { archiveQuery, shootoutsQuery } from "../../api/queries"
import { PersonLink } from "../../frame/PersonLink"
import { Wordmark } from "../../frame/Wordmark"
import { ProblemNote } from "../../parts/ProblemNote"
import { count, day } from "../../theme/format"
import { subjectName } from "../../theme/subjects"
import { useTheme } from "../../theme/useTheme"
import { BringIn } from "./BringIn"
import { FromNotes } from "./FromNotes"
import { NewShootout } from "./NewShootout"

/** All shootouts, and a place to start a new one. */
export function Shelf() {
  const { data, error } = useQuery(shootoutsQuery())
  const { data: me } = useQuery(meQuery)
  const [theme, flip] = useTheme()
  const [notes, setNotes] = useState(false)
  useEffect(() => {
    document.title = "Shootouts · True Margin"
  }, [])
  return (
    <div className={`mx-auto px-4 py-4 ${notes ? "max-w-6xl" : "max-w-3xl"}`}>
      <header className="flex items-center gap-4">
        <Wordmark />
        <span className="flex-1" />
        <PersonLink />
        <button type="button" className="text-[13px] underline" onClick={flip}>
          {theme === "daybench" ? "night" : "day"}
        </button>
      </header>
      <main>
        <p className="mt-8 max-w-xl font-head text-[22px] leading-7">
          Time the exports, keep every run, and say only what the runs prove.
        </p>
        <ProblemNote error={error} />
        {me?.makes === false ? (
          <p className="mt-6 text-[13px] text-mute">
            You see the shootouts that you were invited to. New ones are made by editors and owners
            of all of them.
          </p>
        ) : notes ? (
          <FromNotes onClose={() => setNotes(false)} />
        ) : (
          <Doors demo={data?.find((each) => each.demo)} onNotes={() => setNotes(true)} />
        )}
        {data && data.length > 0 && <OnShelf all={data} />}
        {me?.makes !== false && (
          <>
            <InArchive />
            <BringIn />
          </>
        )}
        {me?.kind === "local" && (
          <p className="mt-8 text-[13px] text-mute">
            Working on it with others?{" "}
            <Link to="/people" className="underline">
              People
            </Link>
          </p>
        )}
      </main>
    </div>
  )
}

/** The two ways in: a question of one's own, or a finished comparison to look around. */
function Doors({ demo, onNotes }: { demo: Schemas["Shootout"] | undefined; onNotes: () => void }) {
  return (
    <div className="mt-6 grid gap-6 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]">
      <section aria-label="Start your own" className="border border-base-content bg-page p-4">
        <h2 className="mb-2 text-[17px]">Start your own</h2>
        <NewShootout />
        <p className="mt-3 text-[13px]">
          <button type="button" className="underline" onClick={onNotes}>
            Start from your notes
          </button>{" "}
          <span className="text-mute">paste a table, or lines such as Alder / photos / 8:46</span>
        </p>
      </section>
      {demo && (
        <section aria-label="Look around a finished one" className="border border-line p-4">
          <h2 className="mb-2 text-[17px]">Look around a finished one</h2>
          <p>
            <Link
              to="/s/$slug/margins"
              params={{ slug: demo.slug }}
              className="font-bold underline"
            >
              {demo.name}
            </Link>
          </p>
          <p className="mt-1 text-[13px] text-mute">
            Everything in it is made up: machines, runs, prices and viewers.
          </p>
        </section>
      )}
    </div>
  )
}

const MANY = 6

/** All shootouts, the newest first; a field looks for one where there are many. */
function OnShelf({ all }: { all: Schemas["Shootout"][] }) {
  const [wanted, setWanted] = useState("")
  const found = all.filter((each) =>
    each.name.toLocaleLowerCase().includes(wanted.trim().toLocaleLowerCase()),
  )
  return (
    <section aria-label="Shootouts" className="mt-8">
      <div className="mb-2 flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-[16px]">Shootouts</h1>
        {all.length > MANY && (
          <input
            type="search"
            aria-label="Search shootouts"
            placeholder="Search"
            className="input input-sm w-48 bg-page"
            value={wanted}
            onChange={(event) => setWanted(event.target.value)}
          />
        )}
      </div>
      <ul className="border-t border-line">
        {found.map((each) => (
          <li key={each.id} className="border-b border-line">
            <Link
              to="/s/$slug/margins"
              params={{ slug: each.slug }}
              className="flex flex-wrap items-baseline gap-x-3 py-3 hover:bg-base-200"
            >
              <span className="min-w-0 font-head text-[17px] font-bold break-words">
                {each.name}
              </span>
              {each.demo && <span className="text-[13px] text-mute">demo</span>}
              <span className="ml-auto text-[13px] text-mute">
                comparing: {subjectName(each.subject)} · {day(each.created_at)}
              </span>
            </Link>
          </li>
        ))}
        {found.length === 0 && <li className="py-3 text-mute">None is called so.</li>}
      </ul>
    </section>
  )
}

/** Shootouts that were put away; each can be taken out again. */
function InArchive() {
  const { data } = useQuery(archiveQuery)
  const archive = useArchiveShootout()
  if (!data?.length) return null
  return (
    <details className="mt-6 text-[13px]">
      <summary className="cursor-pointer text-mute">
        {count(data.length, "shootout")} in the archive
      </summary>
      <ul className="mt-1 border-t border-line">
        {data.map((each) => (
          <li key={each.id} className="flex items-center gap-3 border-b border-line py-1">
            <span className="min-w-0 flex-1 break-words">
              {each.name} <span className="text-mute">{day(each.archived_at?.slice(0, 10))}</span>
            </span>
            <button
              type="button"
              className="btn btn-xs"
              aria-label={`Restore ${each.name}`}
              onClick={() => archive.mutate({ slug: each.slug, archived: false })}
            >
              Restore
            </button>
          </li>
        ))}
      </ul>
      <ProblemNote error={archive.error} />
    </details>
  )
}

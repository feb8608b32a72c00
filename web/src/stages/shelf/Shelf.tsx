import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useEffect, useState } from "react"
import type { Schemas } from "../../api/client"
import { meQuery } from "../../api/people"
import { archiveQuery, shelfQuery } from "../../api/queries"
import { HomeTop } from "../../frame/HomeTop"
import { ProblemNote } from "../../parts/ProblemNote"
import { BringIn } from "./BringIn"
import { FromNotes } from "./FromNotes"
import { NewShootout } from "./NewShootout"
import { OnShelf } from "./OnShelf"

/** All shootouts with their answers, and the ways to start a new one. */
export function Shelf() {
  const { data, error } = useQuery(shelfQuery())
  const { data: me } = useQuery(meQuery)
  const { data: archived } = useQuery(archiveQuery)
  const [notes, setNotes] = useState(false)
  useEffect(() => {
    document.title = "Shootouts · True Margin"
  }, [])
  const some = Boolean(data?.length || archived?.length)
  return (
    <>
      <HomeTop />
      <div className="mx-auto max-w-320 px-4 py-4">
        <main
          className={
            some && !notes
              ? "mt-6 flex flex-col-reverse gap-x-10 gap-y-10 lg:grid lg:grid-cols-[18.125rem_minmax(0,1fr)]"
              : "mx-auto max-w-3xl"
          }
        >
          <div className={notes ? "max-w-6xl" : ""}>
            {!some && (
              <p className="mt-8 max-w-xl font-head text-22 leading-7">
                Time the exports, keep every run, and say only what the runs prove.
              </p>
            )}
            <ProblemNote error={error} />
            {me?.makes === false ? (
              <p className="text-13 text-mute">
                You see the shootouts that you were invited to. New ones are made by editors and
                owners of all of them.
              </p>
            ) : notes ? (
              <FromNotes onClose={() => setNotes(false)} />
            ) : (
              <Doors
                beside={some}
                demo={data?.find((each) => each.shootout.demo)}
                onNotes={() => setNotes(true)}
              />
            )}
            {me?.makes !== false && !notes && <BringIn />}
          </div>
          {some && !notes && data && (
            <OnShelf all={data} archived={archived ?? []} owns={ownsOf(me)} />
          )}
        </main>
      </div>
    </>
  )
}

/** Which shootouts one owns: all on one's own machine, else those of one's roles. */
function ownsOf(me: Schemas["Me"] | undefined): (shootoutId: string) => boolean {
  if (me?.kind !== "person") return () => me !== undefined
  return (id) =>
    me.roles.some((each) => each.role === "owner" && [null, id].includes(each.shootout_id))
}

/** The two ways in: a question of one's own, or a finished comparison to look around. */
function Doors({
  beside,
  demo,
  onNotes,
}: {
  /** Whether they stand beside the shelf, one under the other. */
  beside: boolean
  demo: Schemas["ShelfLine"] | undefined
  onNotes: () => void
}) {
  return (
    <div
      className={
        beside ? "space-y-4" : "mt-6 grid gap-6 md:grid-cols-[minmax(0,3fr)_minmax(0,2fr)]"
      }
    >
      <section aria-label="Start your own" className="border border-base-content bg-page p-4">
        <h2 className="mb-2 text-17">Start your own</h2>
        <NewShootout />
        <p className="mt-3 text-13">
          <button type="button" className="underline" onClick={onNotes}>
            Start from your notes
          </button>{" "}
          <span className="text-mute">paste a table, or lines such as Alder / photos / 8:46</span>
        </p>
      </section>
      {demo && (
        <section aria-label="Look around a finished one" className="border border-line p-4">
          <h2 className="mb-2 text-17">Look around a finished one</h2>
          <p>
            <Link
              to="/s/$slug/margins"
              params={{ slug: demo.shootout.slug }}
              className="font-bold underline"
            >
              {demo.shootout.name}
            </Link>
          </p>
          <p className="mt-1 text-13 text-mute">
            {demo.facts && `${demo.facts}. `}Everything in it is made up: machines, runs, prices and
            viewers.
          </p>
        </section>
      )}
    </div>
  )
}

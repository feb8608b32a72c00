import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { useOrderRounds } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { roundsQuery } from "../../api/queries"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { EditRound, OpenRound, type Round } from "./RoundForms"

/** The rounds, oldest first, with the app versions of each; opens a new one. */
export function Rounds({ slug, sheets }: { slug: string; sheets: Schemas["TaskSheet"][] }) {
  const { data } = useQuery(roundsQuery(slug))
  const [opening, setOpening] = useState(false)
  const apps = [...new Set(sheets.map((sheet) => sheet.task.app))]
  return (
    <section className="mt-8 max-w-2xl">
      <h2 className="text-16">Rounds</h2>
      <p className="mb-2 text-13 text-mute">
        A round is a set of runs with the same app versions. Start a new round after an update and
        rerun at least one machine, so that old and new results can be linked.
      </p>
      <ol className="border-t border-line">
        {data?.map((round, at) => (
          <RoundLine
            key={`${round.id} ${round.name} ${round.versions.map((v) => v.version).join()}`}
            slug={slug}
            round={round}
            rounds={data}
            at={at}
            apps={apps}
          />
        ))}
      </ol>
      {opening ? (
        <OpenRound slug={slug} sheets={sheets} onDone={() => setOpening(false)} />
      ) : (
        <Writes>
          <button type="button" className="btn btn-sm mt-3" onClick={() => setOpening(true)}>
            Open a round
          </button>
        </Writes>
      )}
    </section>
  )
}

/** One round: the last one runs now; renamed, dated by its place, its versions put right. */
function RoundLine({
  slug,
  round,
  rounds,
  at,
  apps,
}: {
  slug: string
  round: Round
  rounds: Round[]
  at: number
  apps: string[]
}) {
  const [editing, setEditing] = useState(false)
  const order = useOrderRounds(slug)
  const move = (by: number) => {
    const ids = rounds.map((each) => each.id)
    ids.splice(at + by, 0, ...ids.splice(at, 1))
    order.mutate(ids)
  }
  const last = rounds.length - 1
  if (editing) {
    return (
      <li className="border-b border-line py-2">
        <EditRound slug={slug} round={round} apps={apps} onDone={() => setEditing(false)} />
      </li>
    )
  }
  return (
    <li className="flex flex-wrap items-baseline gap-x-4 border-b border-line py-1.5">
      <strong>{round.name}</strong>
      {at === last && <span className="text-13">runs now</span>}
      <span className="text-mute">
        {round.versions.map(({ app, version }) => `${app} ${version}`).join(", ") ||
          "no versions noted"}
      </span>
      <Writes>
        <span className="ml-auto flex gap-3 text-13">
          {at > 0 && (
            <button
              type="button"
              className="text-mute underline"
              aria-label={`${round.name} was earlier`}
              onClick={() => move(-1)}
            >
              Earlier
            </button>
          )}
          {at < last && (
            <button
              type="button"
              className="text-mute underline"
              aria-label={`${round.name} was later`}
              onClick={() => move(1)}
            >
              Later
            </button>
          )}
          <button
            type="button"
            className="text-mute underline"
            aria-label={`Edit ${round.name}`}
            onClick={() => setEditing(true)}
          >
            Edit
          </button>
        </span>
      </Writes>
      <ProblemNote error={order.error} />
    </li>
  )
}

import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { useAddRound, useChangeRound, useOrderRounds } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { roundsQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"

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

type Round = Schemas["Round"]

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

function EditRound({
  slug,
  round,
  apps,
  onDone,
}: {
  slug: string
  round: Round
  apps: string[]
  onDone: () => void
}) {
  const known = Object.fromEntries(round.versions.map((each) => [each.app, each.version]))
  const [name, setName] = useState(round.name)
  const [versions, setVersions] = useState<Record<string, string>>(known)
  const change = useChangeRound(slug)
  return (
    <form
      className="flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        const given = Object.entries(versions).filter(([, version]) => version.trim())
        const body = { name, versions: Object.fromEntries(given) }
        change.mutate({ id: round.id, body }, { onSuccess: onDone })
      }}
    >
      <div className="w-40">
        <TextField
          label="Name of the round"
          value={name}
          onText={setName}
          maxLength={120}
          autoFocus
        />
      </div>
      {apps.map((app) => (
        <div key={app} className="w-32">
          <TextField
            label={`Version of ${app}`}
            value={versions[app] ?? ""}
            onText={(text) => setVersions({ ...versions, [app]: text })}
            maxLength={60}
          />
        </div>
      ))}
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        busy={change.isPending}
        needs={!name.trim() && "Needs a name."}
      >
        Save
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
      <ProblemNote error={change.error} />
    </form>
  )
}

function OpenRound({
  slug,
  sheets,
  onDone,
}: {
  slug: string
  sheets: Schemas["TaskSheet"][]
  onDone: () => void
}) {
  const apps = [...new Set(sheets.map((sheet) => sheet.task.app))]
  const [name, setName] = useState("")
  const [versions, setVersions] = useState<Record<string, string>>({})
  const add = useAddRound(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const given = Object.entries(versions).filter(([, version]) => version.trim())
    add.mutate({ name, versions: Object.fromEntries(given) }, { onSuccess: onDone })
  }
  return (
    <form onSubmit={submit} className="mt-3 grid max-w-xl gap-3 sm:grid-cols-2">
      <div className="sm:col-span-2">
        <TextField
          label="Name of the round"
          value={name}
          onText={setName}
          maxLength={120}
          placeholder="winter"
          autoFocus
        />
      </div>
      {apps.map((app) => (
        <TextField
          key={app}
          label={`Version of ${app}`}
          value={versions[app] ?? ""}
          onText={(text) => setVersions({ ...versions, [app]: text })}
          maxLength={60}
        />
      ))}
      <div className="flex gap-2 sm:col-span-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          needs={!name.trim() && "Needs a name."}
        >
          Open round
        </ActButton>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
          Cancel
        </button>
      </div>
      <ProblemNote error={add.error} />
    </form>
  )
}

import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { useAddRound } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { roundsQuery } from "../../api/queries"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"

/** The rounds, oldest first, with the app versions of each; opens a new one. */
export function Rounds({ slug, sheets }: { slug: string; sheets: Schemas["TaskSheet"][] }) {
  const { data } = useQuery(roundsQuery(slug))
  const [opening, setOpening] = useState(false)
  return (
    <section className="mt-8 max-w-2xl">
      <h2 className="text-[16px]">Rounds</h2>
      <p className="mb-2 text-[13px] text-mute">
        A round is bench time with the same software. Open a new one when an app is updated: the
        update shifts every time, and a setup measured in both rounds ties them together.
      </p>
      <ol className="border-t border-line">
        {data?.map((round) => (
          <li key={round.id} className="flex flex-wrap gap-x-4 border-b border-line py-1.5">
            <strong>{round.name}</strong>
            <span className="text-mute">
              {round.versions.map(({ app, version }) => `${app} ${version}`).join(", ") ||
                "no versions noted"}
            </span>
          </li>
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
        <button type="submit" className="btn btn-primary btn-sm" disabled={!name.trim()}>
          Open round
        </button>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
          Cancel
        </button>
      </div>
      <ProblemNote error={add.error} />
    </form>
  )
}

import { type FormEvent, useState } from "react"
import { useAddRound, useChangeRound } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

export type Round = Schemas["Round"]

export function EditRound({
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

export function OpenRound({
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

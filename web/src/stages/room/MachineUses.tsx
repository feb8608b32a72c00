import { Link } from "@tanstack/react-router"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useMoveSetups } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

type Machine = Schemas["RoomMachine"]

/** Setups by state; one that was another state, or is another machine, is put right. */
export function MachineUses({ machine }: { machine: Machine }) {
  if (machine.states.length === 0) return <p className="text-13 text-mute">Nowhere yet.</p>
  return (
    <ul className="space-y-1 text-13">
      {machine.states.map((state) => (
        <li key={state.state}>
          <span className="font-bold">{state.state}</span>
          <ul>
            {state.uses.map((use) => (
              <Use key={use.id} machine={machine} state={state.state} use={use} />
            ))}
          </ul>
        </li>
      ))}
    </ul>
  )
}

function Use({
  machine,
  state,
  use,
}: {
  machine: Machine
  state: string
  use: Schemas["UseLine"]
}) {
  const move = useMoveSetups()
  const [naming, setNaming] = useState(false)
  const [name, setName] = useState(state)
  const where = `${state} in ${use.shootout}`
  const rename = (event: FormEvent) => {
    event.preventDefault()
    move.mutate({ setup_ids: [use.id], machine_id: machine.id, state: name })
  }
  return (
    <li>
      <span className="flex flex-wrap gap-x-2">
        <Link to="/s/$slug/lineup" params={{ slug: use.slug }} className="underline">
          {use.shootout}
        </Link>
        <button
          type="button"
          className="text-mute underline"
          aria-expanded={naming}
          aria-label={`${where}: another state`}
          onClick={() => setNaming(!naming)}
        >
          another state
        </button>
        <ActButton
          type="button"
          className="text-mute underline"
          aria-label={`${where}: not this machine`}
          busy={move.isPending}
          onClick={() => move.mutate({ setup_ids: [use.id], machine_id: null, state: null })}
        >
          not this machine
        </ActButton>
      </span>
      {naming && (
        <form onSubmit={rename} className="flex items-end gap-2 py-1">
          <div className="min-w-0 flex-1">
            <TextField
              label="In which state was it?"
              value={name}
              onText={setName}
              maxLength={120}
            />
          </div>
          <ActButton
            type="submit"
            className="btn btn-sm"
            busy={move.isPending}
            needs={(!name.trim() || name.trim() === state) && "Needs another name."}
          >
            Save state
          </ActButton>
        </form>
      )}
      <ProblemNote error={move.error} />
    </li>
  )
}

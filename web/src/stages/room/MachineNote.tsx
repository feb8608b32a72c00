import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { historyQuery, useChangeRoomMachine, worthQuery } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { NotePart, SideNote } from "../../parts/SideNote"
import { SPOKEN } from "../../reach/spoken"
import { KEEPING, keepingOf } from "./AddRoomMachine"
import { JoinMachine } from "./JoinMachine"
import { MachineSpecs } from "./MachineSpecs"
import { MachineUses } from "./MachineUses"

type Machine = Schemas["RoomMachine"]

/** One machine over all shootouts: how it fares, whose it is, its specs, where it was tested. */
export function MachineNote({
  machine,
  all,
  onClose,
}: {
  machine: Machine
  all: Machine[]
  onClose: () => void
}) {
  return (
    <SideNote title="Machine" name={machine.name} about={machine.id} onClose={onClose}>
      <h3 className="text-18 leading-6 break-words">{machine.name}</h3>
      <History id={machine.id} />
      <NotePart title="Where it was tested">
        <MachineUses machine={machine} />
      </NotePart>
      <NotePart title="What it is">
        <Facts key={machine.version} machine={machine} />
      </NotePart>
      <NotePart title="Spec sheet as it is now">
        <MachineSpecs machine={machine} />
      </NotePart>
      <NotePart title="The same as another one?">
        <JoinMachine machine={machine} all={all} />
      </NotePart>
    </SideNote>
  )
}

/** Whether it is slower than it was, task by task, and what to time on it while it is here. */
function History({ id }: { id: string }) {
  const { data, error } = useQuery(historyQuery(id))
  const worth = useQuery(worthQuery(id)).data ?? []
  return (
    <>
      <ProblemNote error={error} />
      {data && data.tasks.length > 0 && (
        <NotePart title="Is it slower than it was?">
          <ul className="space-y-2">
            {data.tasks.map((task) => (
              <li key={`${task.standing_id} ${task.label}`} className="border-t border-line pt-1">
                <Link
                  to="/all-time"
                  search={{ task: task.standing_id }}
                  className="block text-13 font-bold underline"
                >
                  {task.name}
                  {task.label !== data.name && ` (${task.label})`}
                </Link>
                <span className="block text-13">{task.finding}</span>
                {task.stretches.length > 1 && <Stretches rows={task.stretches} />}
              </li>
            ))}
          </ul>
        </NotePart>
      )}
      {worth.length > 0 && (
        <NotePart title="Before it goes">
          <ul className="list-disc space-y-1 pl-4 text-13">
            {worth.map((each) => (
              <li key={each.standing_id}>
                {each.name}: {each.words}
              </li>
            ))}
          </ul>
        </NotePart>
      )}
    </>
  )
}

function Stretches({ rows }: { rows: Schemas["StretchRow"][] }) {
  return (
    <ul className="mt-1 text-12 text-mute">
      {rows.map((row) => (
        <li key={`${row.version} ${row.shootout}`} className="flex gap-2">
          <span className="w-10 shrink-0">{row.version}</span>
          <span className="figure w-14 shrink-0 text-right">{row.shown}</span>
          <span className="min-w-0 break-words">{row.words || row.shootout}</span>
        </li>
      ))}
    </ul>
  )
}

function Facts({ machine }: { machine: Machine }) {
  const [name, setName] = useState(machine.name)
  const [model, setModel] = useState(machine.model ?? "")
  const [sample, setSample] = useState(machine.sample ?? "")
  const [keeping, setKeeping] = useState(machine.keeping)
  const [until, setUntil] = useState(machine.until ?? "")
  const change = useChangeRoomMachine()
  const submit = (event: FormEvent) => {
    event.preventDefault()
    change.mutate({
      id: machine.id,
      version: machine.version,
      name,
      model: model.trim() || null,
      sample: sample.trim() || null,
      keeping: keepingOf(keeping),
      until: keeping === "lent" && until ? until : null,
    })
  }
  return (
    <form onSubmit={submit} className="space-y-2">
      <TextField label="Name" value={name} onText={setName} maxLength={120} />
      <TextField label="Model" value={model} onText={setModel} maxLength={120} />
      <TextField
        label="Serial number or sample"
        value={sample}
        onText={setSample}
        maxLength={120}
      />
      <ChoiceField label="Whose is it?" value={keeping} options={KEEPING} onValue={setKeeping} />
      {keeping === "lent" && (
        <TextField label="Goes back on" type="date" value={until} onText={setUntil} />
      )}
      <ProblemNote error={change.error} />
      <ActButton
        type="submit"
        className="btn btn-sm"
        busy={change.isPending}
        needs={!name.trim() && "Needs a name."}
      >
        Save
      </ActButton>
      {change.isSuccess && (
        <span {...SPOKEN} className="ml-3 text-13 text-mute">
          Saved.
        </span>
      )}
    </form>
  )
}

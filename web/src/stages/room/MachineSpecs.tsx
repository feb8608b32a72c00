import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useNoteSpecs } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { day } from "../../theme/format"

/** What a machine has now; what changes gets the day since which it is so. */
export function MachineSpecs({ machine }: { machine: Schemas["RoomMachine"] }) {
  return (
    <>
      <dl className="text-13">
        {machine.specs.map((row) => (
          <div key={row.field} className="flex gap-2 border-t border-line py-0.5">
            <dt className="w-28 shrink-0 text-mute">{row.title}</dt>
            <dd className="min-w-0 break-words">
              {row.text || "nothing"}
              {row.since && <span className="text-mute"> since {day(row.since)}</span>}
              {row.earlier.length > 0 && (
                <span className="block text-mute">was {row.earlier.join(", ")}</span>
              )}
            </dd>
          </div>
        ))}
      </dl>
      {machine.specs.length > 0 && <NoteChange machine={machine} />}
    </>
  )
}

function NoteChange({ machine }: { machine: Schemas["RoomMachine"] }) {
  const [field, setField] = useState("memory_gb")
  const [text, setText] = useState("")
  const [since, setSince] = useState("")
  const note = useNoteSpecs()
  const options = machine.specs.map((row) => ({ value: row.field, words: row.title }))
  const chosen = options.some((each) => each.value === field) ? field : (options[0]?.value ?? "")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    note.mutate(
      { id: machine.id, specs: { [chosen]: text.trim() || null }, since: since || null },
      { onSuccess: () => setText("") },
    )
  }
  return (
    <form onSubmit={submit} className="mt-3 space-y-2">
      <ChoiceField
        label="Something was changed:"
        value={chosen}
        options={options}
        onValue={setField}
      />
      <div className="flex gap-2">
        <div className="min-w-0 flex-1">
          <TextField label="It is now" value={text} onText={setText} maxLength={120} />
        </div>
        <div className="w-36">
          <TextField label="Since" type="date" value={since} onText={setSince} />
        </div>
      </div>
      <ProblemNote error={note.error} />
      <ActButton
        type="submit"
        className="btn btn-sm"
        busy={note.isPending}
        needs={!text.trim() && "Needs something to note."}
      >
        Note it
      </ActButton>
      <p className="text-12 text-mute">
        Shootouts keep what was tested; each that has this machine asks whether it was so then.
      </p>
    </form>
  )
}

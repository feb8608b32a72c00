import { type FormEvent, useRef, useState } from "react"
import { useAddMachine } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useSentText } from "../../parts/useSentText"
import { SPOKEN } from "../../reach/spoken"

/** Adds a machine; it may take over the specs of another. Stays open for the next. */
export function AddMachine({
  slug,
  columns,
  onClose,
}: {
  slug: string
  columns: Schemas["MachineColumn"][]
  onClose: () => void
}) {
  const { text: name, setText: setName, sent } = useSentText()
  const [copyFrom, setCopyFrom] = useState("")
  const [added, setAdded] = useState<string | null>(null)
  const form = useRef<HTMLFormElement>(null)
  const add = useAddMachine(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!name.trim() || add.isPending) return
    add.mutate(
      { name, ...(copyFrom ? { copy_from: copyFrom } : {}) },
      {
        ...sent(),
        onSuccess: (machine) => {
          setAdded(machine.name)
          form.current?.querySelector("input")?.focus()
        },
      },
    )
  }
  return (
    <form
      ref={form}
      onSubmit={submit}
      className="mb-4 flex flex-wrap items-end gap-3 border-y border-line bg-base-200 px-3 py-3"
    >
      <div className="w-56">
        <TextField
          label="Name of the machine"
          value={name}
          onText={setName}
          maxLength={120}
          autoFocus
        />
      </div>
      {columns.length > 0 && (
        <div className="w-52">
          <ChoiceField
            label="Specs like"
            value={copyFrom}
            options={[
              { value: "", words: "none yet" },
              ...columns.map(({ machine }) => ({ value: machine.id, words: machine.name })),
            ]}
            onValue={setCopyFrom}
          />
        </div>
      )}
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        needs={!name.trim() && "Needs a name."}
      >
        Add machine
      </ActButton>
      {columns.length > 0 && (
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Done
        </button>
      )}
      <span {...SPOKEN} className="text-13 text-mute">
        {added && !add.isPending && `${added} is in the line-up.`}
      </span>
      <div className="w-full empty:hidden">
        <ProblemNote error={add.error} />
      </div>
    </form>
  )
}

import { type FormEvent, useState } from "react"
import { Keeping } from "../../api/choices"
import { useAddRoomMachine } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

export const KEEPING = [
  { value: "owned", words: "owned" },
  { value: "lent", words: "lent" },
  { value: "sold", words: "sold" },
  { value: "gone", words: "given back, or gone" },
] as const

export const keepingOf = (value: string) => Keeping.find((each) => each === value) ?? "owned"

/** Adds a machine to the store room before any shootout has it. */
export function AddRoomMachine() {
  const [name, setName] = useState("")
  const [sample, setSample] = useState("")
  const [keeping, setKeeping] = useState<string>("owned")
  const add = useAddRoomMachine()
  const submit = (event: FormEvent) => {
    event.preventDefault()
    add.mutate(
      { name, sample: sample.trim() || null, keeping: keepingOf(keeping) },
      {
        onSuccess: () => {
          setName("")
          setSample("")
        },
      },
    )
  }
  return (
    <form onSubmit={submit} className="flex max-w-3xl flex-wrap items-end gap-3">
      <div className="min-w-0 grow basis-48">
        <TextField label="Name of the machine" value={name} onText={setName} maxLength={120} />
      </div>
      <div className="min-w-0 grow basis-40">
        <TextField
          label="Serial number or sample"
          value={sample}
          onText={setSample}
          maxLength={120}
        />
      </div>
      <div className="w-40">
        <ChoiceField label="Whose is it?" value={keeping} options={KEEPING} onValue={setKeeping} />
      </div>
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        busy={add.isPending}
        needs={!name.trim() && "Needs a name."}
      >
        Add machine
      </ActButton>
      <div className="w-full">
        <ProblemNote error={add.error} />
      </div>
    </form>
  )
}

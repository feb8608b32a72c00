import { type FormEvent, useState } from "react"
import { useAddFreeRow } from "../../api/changes"
import { problemOf } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

/** Adds a row of one's own to the sheet; it can later be a viewer's need. */
export function AddRow({ slug }: { slug: string }) {
  const [open, setOpen] = useState(false)
  const [title, setTitle] = useState("")
  const [unit, setUnit] = useState("")
  const add = useAddFreeRow(slug)
  const problem = problemOf(add.error)
  if (!open) {
    return (
      <button type="button" className="btn btn-sm" onClick={() => setOpen(true)}>
        Add a row of your own
      </button>
    )
  }
  const close = () => {
    setOpen(false)
    setTitle("")
    setUnit("")
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    add.mutate({ title, ...(unit.trim() ? { unit, number: true } : {}) }, { onSuccess: close })
  }
  return (
    <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3">
      <div className="w-56">
        <TextField
          label="Name of the row"
          value={title}
          onText={setTitle}
          maxLength={60}
          placeholder="Height on the desk"
          error={problem?.field === "title" ? problem.detail : null}
          autoFocus
        />
      </div>
      <div className="w-44">
        <TextField
          label="Unit, if it holds numbers"
          value={unit}
          onText={setUnit}
          maxLength={20}
          placeholder="cm"
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-sm"
        busy={add.isPending}
        needs={!title.trim() && "Needs a name."}
      >
        Add row
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={close}>
        Cancel
      </button>
      {problem && problem.field !== "title" && <ProblemNote error={add.error} />}
    </form>
  )
}

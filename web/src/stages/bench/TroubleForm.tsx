import { type FormEvent, useState } from "react"
import { useNoteTrouble } from "../../api/bench"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Choice, ObservedOn } from "./ObservedOn"

type Trouble = Schemas["SeenTrouble"]
const KINDS: Trouble["kind"][] = ["crash", "work lost", "wrong colours", "device fails", "other"]

/** Notes a fault worth telling that is not a time. */
export function TroubleForm({
  slug,
  setups,
  tasks,
  selected,
  onDone,
}: {
  slug: string
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  selected: { setupId: string; taskId: string } | null
  onDone: () => void
}) {
  const [setup, setSetup] = useState(selected?.setupId ?? setups[0]?.id ?? "")
  const [task, setTask] = useState(selected?.taskId ?? tasks[0]?.id ?? "")
  const [kind, setKind] = useState<Trouble["kind"]>("crash")
  const [note, setNote] = useState("")
  const save = useNoteTrouble(slug, task)
  const problem = problemOf(save.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    save.mutate({ setup_id: setup, kind, note: note.trim() || null }, { onSuccess: onDone })
  }
  return (
    <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-2">
      <ObservedOn
        setups={setups}
        tasks={tasks}
        setup={setup}
        task={task}
        onSetup={setSetup}
        onTask={setTask}
      />
      <Choice
        label="What happened"
        value={kind}
        options={KINDS.map((each) => [each, each])}
        onChoose={(each) => setKind(each as Trouble["kind"])}
      />
      <div className="w-72">
        <TextField
          label="In words"
          value={note}
          onText={setNote}
          maxLength={500}
          error={problem?.field === "note" ? problem.detail : null}
        />
      </div>
      <button type="submit" className="btn btn-primary btn-sm" disabled={save.isPending}>
        Note it
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
      {problem && problem.field !== "note" && <ProblemNote error={save.error} />}
    </form>
  )
}

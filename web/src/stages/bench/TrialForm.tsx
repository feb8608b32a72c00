import { type FormEvent, useState } from "react"
import { useNoteTrial } from "../../api/bench"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Choice, ObservedOn } from "./ObservedOn"

type Trial = Schemas["SeenTrial"]
const KINDS: Trial["kind"][] = [
  "scrub",
  "seek",
  "playback full",
  "playback half",
  "playback quarter",
  "page switch",
  "import",
]
const GRADES: Trial["grade"][] = ["smooth", "slow", "stutters", "unusable"]

/** A whole number that was typed; null where the field is empty, NaN where it is no number. */
function whole(text: string): number | null {
  if (!text.trim()) return null
  return /^\d+$/.test(text.trim()) ? Number(text) : Number.NaN
}

/** Notes how the edit itself went on a setup. */
export function TrialForm({
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
  const [kind, setKind] = useState<Trial["kind"]>("scrub")
  const [grade, setGrade] = useState<Trial["grade"]>("smooth")
  const [freezes, setFreezes] = useState("")
  const [dropped, setDropped] = useState("")
  const [total, setTotal] = useState("")
  const [note, setNote] = useState("")
  const save = useNoteTrial(slug, task)
  const problem = problemOf(save.error)
  const numbers = [whole(freezes), whole(dropped), whole(total)]
  const bad = numbers.some((each) => Number.isNaN(each))
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad) return
    const [frozen = null, lost = null, all = null] = numbers
    const body = { setup_id: setup, kind, grade, freezes: frozen, dropped: lost, total: all }
    save.mutate({ ...body, note: note.trim() || null }, { onSuccess: onDone })
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
        label="What was tried"
        value={kind}
        options={KINDS.map((each) => [each, each])}
        onChoose={(each) => setKind(each as Trial["kind"])}
      />
      <Choice
        label="How it went"
        value={grade}
        options={GRADES.map((each) => [each, each])}
        onChoose={(each) => setGrade(each as Trial["grade"])}
      />
      <div className="w-28">
        <TextField
          label="Freezes counted"
          value={freezes}
          onText={setFreezes}
          inputMode="numeric"
        />
      </div>
      <div className="w-28">
        <TextField
          label="Dropped frames"
          value={dropped}
          onText={setDropped}
          inputMode="numeric"
          error={problem?.field === "dropped" ? problem.detail : null}
        />
      </div>
      <div className="w-28">
        <TextField
          label="of"
          value={total}
          onText={setTotal}
          inputMode="numeric"
          error={problem?.field === "total" ? problem.detail : null}
        />
      </div>
      <div className="w-64">
        <TextField label="Note" value={note} onText={setNote} maxLength={500} />
      </div>
      <button type="submit" className="btn btn-primary btn-sm" disabled={bad || save.isPending}>
        Note it
      </button>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
      {bad && <p className="w-full text-[13px] text-accent">Counts are whole numbers.</p>}
      {problem && !["dropped", "total"].includes(problem.field ?? "") && (
        <ProblemNote error={save.error} />
      )}
    </form>
  )
}

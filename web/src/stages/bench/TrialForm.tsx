import { useState } from "react"
import { useNoteTrial } from "../../api/bench"
import { TrialGrade, TrialKind } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Choice, type Observed, ObservedForm } from "./ObservedForm"

type Trial = Schemas["SeenTrial"]
const COUNTS = [
  ["freezes", "Freezes counted"],
  ["dropped", "Dropped frames"],
  ["total", "of"],
] as const

/** A whole number that was typed; null where the field is empty, NaN where it is no number. */
function whole(text: string): number | null {
  if (!text.trim()) return null
  return /^\d+$/.test(text.trim()) ? Number(text) : Number.NaN
}

/** Notes how the edit itself went on a setup. */
export function TrialForm({ slug, observed }: { slug: string; observed: Observed }) {
  const [kind, setKind] = useState<Trial["kind"]>("scrub")
  const [grade, setGrade] = useState<Trial["grade"]>("smooth")
  const [counts, setCounts] = useState({ freezes: "", dropped: "", total: "" })
  const [note, setNote] = useState("")
  const save = useNoteTrial(slug)
  const problem = problemOf(save.error)
  const freezes = whole(counts.freezes)
  const dropped = whole(counts.dropped)
  const total = whole(counts.total)
  const bad = [freezes, dropped, total].some((each) => Number.isNaN(each))
  return (
    <>
      <ObservedForm
        observed={observed}
        blocked={bad || save.isPending}
        onNote={(setup_id, taskId) => {
          const body = { setup_id, kind, grade, freezes, dropped, total, note: note.trim() || null }
          save.mutate({ taskId, body }, { onSuccess: observed.onDone })
        }}
      >
        <Choice
          label="What was tried"
          value={kind}
          options={TrialKind.map((each) => [each, each])}
          onChoose={(each) => setKind(each as Trial["kind"])}
        />
        <Choice
          label="How it went"
          value={grade}
          options={TrialGrade.map((each) => [each, each])}
          onChoose={(each) => setGrade(each as Trial["grade"])}
        />
        {COUNTS.map(([field, label]) => (
          <div key={field} className="w-28">
            <TextField
              label={label}
              value={counts[field]}
              onText={(text) => setCounts({ ...counts, [field]: text })}
              inputMode="numeric"
              error={problem?.field === field ? problem.detail : null}
            />
          </div>
        ))}
        <div className="w-64">
          <TextField label="Note" value={note} onText={setNote} maxLength={500} />
        </div>
      </ObservedForm>
      {bad && <p className="text-[13px] text-accent">Counts are whole numbers.</p>}
      {problem && !COUNTS.some(([field]) => field === problem.field) && (
        <ProblemNote error={save.error} />
      )}
    </>
  )
}

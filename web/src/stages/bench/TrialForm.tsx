import { useState } from "react"
import { useNoteTrial } from "../../api/bench"
import { TrialGrade, TrialKind } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { readWhole } from "../../theme/format"
import { LoggedFields, NOTHING_SAID, type SeenUnder, said } from "./LoggedFields"
import { Choice, type Observed, ObservedForm } from "./ObservedForm"

type Trial = Schemas["SeenTrial"]
const COUNTS = [
  ["freezes", "Freezes counted"],
  ["dropped", "Dropped frames"],
  ["total", "of"],
] as const

/** A whole number that was typed; null where the field is empty, NaN where it is no number. */
export function whole(text: string): number | null {
  if (!text.trim()) return null
  return readWhole(text) ?? Number.NaN
}

/** What an entry says of what it was seen under. */
export function underOf(entry: Schemas["LogEntry"]): SeenUnder {
  return {
    version: entry.version ?? "",
    conditions: entry.conditions ?? "",
    timecode: entry.timecode ?? "",
    measured: entry.measured ?? "",
  }
}

/** Where an entry was seen. */
export const placeOf = (entry: Schemas["LogEntry"]) => ({
  setupId: entry.setup_id,
  taskId: entry.task_id,
  app: entry.task_id === null ? entry.app : null,
})

/** Notes how the edit itself went on a setup. */
export function TrialForm({
  slug,
  observed,
  corrects,
}: {
  slug: string
  observed: Observed
  /** The entry that it will stand for. */
  corrects?: Schemas["LogEntry"]
}) {
  const known = TrialKind.find((each) => each === corrects?.what)
  const [kind, setKind] = useState<Trial["kind"]>(corrects ? (known ?? "own kind") : "scrub")
  const [own, setOwn] = useState(corrects && !known ? corrects.what : "")
  const [grade, setGrade] = useState<Trial["grade"]>(
    TrialGrade.find((each) => each === corrects?.grade) ?? "smooth",
  )
  const [counts, setCounts] = useState({
    freezes: `${corrects?.freezes ?? ""}`,
    dropped: `${corrects?.dropped ?? ""}`,
    total: `${corrects?.total ?? ""}`,
  })
  const [under, setUnder] = useState<SeenUnder>(corrects ? underOf(corrects) : NOTHING_SAID)
  const [note, setNote] = useState(corrects?.note ?? "")
  const save = useNoteTrial(slug)
  const problem = problemOf(save.error)
  const freezes = whole(counts.freezes)
  const dropped = whole(counts.dropped)
  const total = whole(counts.total)
  const bad = [freezes, dropped, total].some((each) => Number.isNaN(each))
  return (
    <>
      <ObservedForm
        observed={corrects ? { ...observed, selected: placeOf(corrects) } : observed}
        busy={save.isPending}
        needs={
          bad
            ? "Counts are whole numbers."
            : kind === "own kind" && !own.trim() && "Needs what is tried."
        }
        onNote={(where) => {
          const body = {
            ...where,
            kind,
            grade,
            freezes,
            dropped,
            total,
            ...said(under),
            note: note.trim() || null,
            own_kind: kind === "own kind" ? own.trim() : null,
            corrects_id: corrects?.id ?? null,
          }
          save.mutate(body, { onSuccess: observed.onDone })
        }}
      >
        <Choice
          label="What was tried"
          value={kind}
          options={TrialKind.map((each) => [each, each])}
          onChoose={(each) => setKind(each as Trial["kind"])}
        />
        {kind === "own kind" && (
          <div className="w-40">
            <TextField label="What was it?" value={own} onText={setOwn} maxLength={60} />
          </div>
        )}
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
        <LoggedFields under={under} onChange={setUnder} />
      </ObservedForm>
      {problem && !COUNTS.some(([field]) => field === problem.field) && (
        <ProblemNote error={save.error} />
      )}
    </>
  )
}

import { useState } from "react"
import { useNoteTrouble } from "../../api/bench"
import { TroubleKind } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { LoggedFields, NOTHING_SAID, type SeenUnder, said } from "./LoggedFields"
import { Choice, type Observed, ObservedForm } from "./ObservedForm"
import { placeOf, underOf, whole } from "./TrialForm"

type Trouble = Schemas["SeenTrouble"]

/** Notes a fault worth telling that is not a time. */
export function TroubleForm({
  slug,
  observed,
  corrects,
}: {
  slug: string
  observed: Observed
  /** The entry that it will stand for. */
  corrects?: Schemas["LogEntry"]
}) {
  const [kind, setKind] = useState<Trouble["kind"]>(
    TroubleKind.find((each) => each === corrects?.what) ?? "crash",
  )
  const [note, setNote] = useState(corrects?.note ?? "")
  const [times, setTimes] = useState(`${corrects?.times ?? ""}`)
  const [fixed, setFixed] = useState(corrects?.fixed_in ?? "")
  const [under, setUnder] = useState<SeenUnder>(corrects ? underOf(corrects) : NOTHING_SAID)
  const save = useNoteTrouble(slug)
  const problem = problemOf(save.error)
  return (
    <>
      <ObservedForm
        observed={corrects ? { ...observed, selected: placeOf(corrects) } : observed}
        busy={save.isPending}
        needs={Number.isNaN(whole(times)) && "Needs a whole number of times, or none."}
        onNote={(where) =>
          save.mutate(
            {
              ...where,
              kind,
              ...said(under),
              note: note.trim() || null,
              times: whole(times),
              fixed_in: fixed.trim() || null,
              corrects_id: corrects?.id ?? null,
            },
            { onSuccess: observed.onDone },
          )
        }
      >
        <Choice
          label="What happened"
          value={kind}
          options={TroubleKind.map((each) => [each, each])}
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
        <div className="w-24">
          <TextField
            label="How often"
            value={times}
            onText={setTimes}
            placeholder="once"
            inputMode="numeric"
            error={Number.isNaN(whole(times)) ? "A whole number." : null}
          />
        </div>
        <div className="w-36">
          <TextField label="Gone in version" value={fixed} onText={setFixed} maxLength={60} />
        </div>
        <LoggedFields under={under} onChange={setUnder} />
      </ObservedForm>
      {problem && problem.field !== "note" && <ProblemNote error={save.error} />}
    </>
  )
}

import { useState } from "react"
import { useNoteTrouble } from "../../api/bench"
import { TroubleKind } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Choice, type Observed, ObservedForm } from "./ObservedForm"

type Trouble = Schemas["SeenTrouble"]

/** Notes a fault worth telling that is not a time. */
export function TroubleForm({ slug, observed }: { slug: string; observed: Observed }) {
  const [kind, setKind] = useState<Trouble["kind"]>("crash")
  const [note, setNote] = useState("")
  const save = useNoteTrouble(slug)
  const problem = problemOf(save.error)
  return (
    <>
      <ObservedForm
        observed={observed}
        blocked={save.isPending}
        onNote={(setup_id, taskId) =>
          save.mutate(
            { taskId, body: { setup_id, kind, note: note.trim() || null } },
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
      </ObservedForm>
      {problem && problem.field !== "note" && <ProblemNote error={save.error} />}
    </>
  )
}

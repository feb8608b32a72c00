import { useState } from "react"
import type { Schemas } from "../api/client"
import { useJudge } from "../api/judgements"
import { ActButton } from "./ActButton"
import { ChoiceField } from "./ChoiceField"
import { TextField } from "./Field"
import { ProblemNote } from "./ProblemNote"

type Judgement = Schemas["NewJudgement"]

const JUDGED = [
  { value: "not the same", words: "it was not the same" },
  { value: "nearly the same", words: "it was only nearly the same" },
] as const

/** A person's word that two setups, or two tasks, did not do the same work, or only nearly. */
export function JudgeForm({
  slug,
  taskId,
  about,
  open,
  onClose,
}: {
  slug: string
  taskId: string
  /** The two setups, or the other task. */
  about: Pick<Judgement, "setup_id" | "other_setup_id" | "other_task_id">
  /** What the button says that opens it. */
  open: string
  onClose?: () => void
}) {
  const [shown, setShown] = useState(false)
  const [judged, setJudged] = useState<Judgement["judged_as"]>("not the same")
  const [reason, setReason] = useState("")
  const judge = useJudge(slug)
  if (!shown) {
    return (
      <button type="button" className="btn btn-xs mt-1" onClick={() => setShown(true)}>
        {open}
      </button>
    )
  }
  const done = () => {
    setShown(false)
    setReason("")
    onClose?.()
  }
  return (
    <form
      className="mt-2 max-w-md space-y-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (!reason.trim()) return
        judge.mutate({ taskId, ...about, judged_as: judged, reason }, { onSuccess: done })
      }}
    >
      <ChoiceField
        label="What do you say of it?"
        value={judged}
        options={JUDGED}
        onValue={(value) => setJudged(value as Judgement["judged_as"])}
        hint={
          judged === "not the same"
            ? "The two get no verdict; the reason is printed instead."
            : "The verdict stands, with the reason beside it."
        }
      />
      <TextField
        label="Why?"
        value={reason}
        onText={setReason}
        maxLength={500}
        autoFocus
        placeholder="the titles were left out"
      />
      <div className="flex gap-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-xs"
          busy={judge.isPending}
          needs={!reason.trim() && "Needs a reason."}
        >
          Save my word
        </ActButton>
        <button type="button" className="btn btn-ghost btn-xs" onClick={done}>
          Cancel
        </button>
      </div>
      <ProblemNote error={judge.error} />
    </form>
  )
}

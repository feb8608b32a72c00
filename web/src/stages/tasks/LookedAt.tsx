import { useState } from "react"
import type { Schemas } from "../../api/client"
import { useJudge } from "../../api/judgements"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { WithdrawWord } from "../../parts/WithdrawWord"

type Row = Schemas["SetupSameness"]
type Part = "timeline" | "settings" | "output"
const WHAT = { timeline: "the edit", settings: "the settings", output: "what came out" }

/** A person's word that they looked, where no file and no note proves it. */
export function LookedAt({
  slug,
  taskId,
  row,
  part,
}: {
  slug: string
  taskId: string
  row: Row
  part: Part
}) {
  const [reason, setReason] = useState("")
  const judge = useJudge(slug)
  const word = row.looked.find((each) => each.part === part)
  if (word) {
    return (
      <p className="mt-2">
        Looked at by a person and found the same{word.reason && `: ${word.reason}`}. Nothing here
        proves it.
        <WithdrawWord slug={slug} word={word} />
      </p>
    )
  }
  if (row[part] !== "unknown") return null
  return (
    <Writes>
      <form
        className="mt-2 flex flex-wrap items-end gap-2"
        onSubmit={(event) => {
          event.preventDefault()
          judge.mutate({
            taskId,
            judged_as: "looked at",
            part,
            setup_id: row.setup_id,
            reason: reason.trim() || null,
          })
        }}
      >
        <div className="w-60">
          <TextField
            label="At what did you look? (may stay empty)"
            value={reason}
            onText={setReason}
            maxLength={500}
          />
        </div>
        <ActButton type="submit" className="btn btn-sm" busy={judge.isPending}>
          I looked: {WHAT[part]} {part === "settings" ? "are" : "is"} the same
        </ActButton>
        <ProblemNote error={judge.error} />
      </form>
    </Writes>
  )
}

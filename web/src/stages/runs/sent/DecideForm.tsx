import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../../api/client"
import { lineupQuery } from "../../../api/queries"
import { useDecide, useErase } from "../../../api/sent"
import { ActButton } from "../../../parts/ActButton"
import { ChoiceField } from "../../../parts/ChoiceField"
import { TextField } from "../../../parts/Field"
import { ProblemNote } from "../../../parts/ProblemNote"
import type { Asked } from "./SentRow"

type Result = Schemas["SentView"]
const ASKED: Record<string, [string, string]> = {
  accepted: ["Why is it accepted?", "Accept"],
  declined: ["Why is it declined?", "Decline"],
  withdrawn: ["Why does it count no more?", "Withdraw"],
}

/** Asks why a result is accepted, declined or withdrawn; of one that counts, which setup it is. */
export function DecideForm({
  slug,
  result,
  state,
  onDone,
}: {
  slug: string
  result: Result
  state: Exclude<Asked, "erased">
  onDone: () => void
}) {
  const lineup = useQuery(lineupQuery(slug)).data
  const decide = useDecide(slug)
  const [why, setWhy] = useState("")
  const [setup, setSetup] = useState(result.same_model ? (result.setup_id ?? "") : "")
  const [question, word] = ASKED[state] ?? ["Why?", "Save"]
  const asks = state === "accepted"
  const kept = asks ? setup || null : result.same_model ? result.setup_id : null
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (why.trim())
          decide.mutate({ id: result.id, state, why, setup_id: kept }, { onSuccess: onDone })
      }}
    >
      {asks && (
        <div className="w-64">
          <ChoiceField
            label="The same model and settings as"
            value={setup}
            options={[
              { value: "", words: "none here" },
              ...(lineup?.setups ?? []).map(({ id, label }) => ({ value: id, words: label })),
            ]}
            onValue={setSetup}
          />
        </div>
      )}
      <div className="w-72">
        <TextField label={question} value={why} onText={setWhy} maxLength={500} autoFocus />
      </div>
      <ActButton
        type="submit"
        className="btn btn-sm btn-primary"
        busy={decide.isPending}
        needs={!why.trim() && "Needs a reason."}
      >
        {word}
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
      <ProblemNote error={decide.error} />
    </form>
  )
}

/** Erases what a result holds, as its sender wishes. */
export function EraseForm({
  slug,
  result,
  onDone,
}: {
  slug: string
  result: Result
  onDone: () => void
}) {
  const erase = useErase(slug)
  const [why, setWhy] = useState("")
  const [code, setCode] = useState("")
  return (
    <form
      className="mt-2 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (why.trim()) erase.mutate({ id: result.id, why, code }, { onSuccess: onDone })
      }}
    >
      <div className="w-72">
        <TextField label="Who wishes it?" value={why} onText={setWhy} maxLength={500} autoFocus />
      </div>
      <div className="w-64">
        <TextField
          label="The sender’s code, if they are not known to you"
          value={code}
          onText={setCode}
          maxLength={100}
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-sm"
        busy={erase.isPending}
        needs={!why.trim() && "Needs a reason."}
      >
        Erase it for good
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
      <p className="basis-full text-13 text-mute">
        Its times, its machine and its name are gone then, and cannot be brought back. That there
        was a result stays, and so does what was published, saved as a pack or backed up with it.
      </p>
      <ProblemNote error={erase.error} />
    </form>
  )
}

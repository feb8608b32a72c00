import { useState } from "react"
import { ActButton } from "./ActButton"
import { TextField } from "./Field"
import { ProblemNote } from "./ProblemNote"

/** Asks why something counts no more; it stays on record. */
export function WithdrawForm({
  pending,
  error,
  onWithdraw,
  onDone,
}: {
  pending: boolean
  /** What came of the last try. */
  error: unknown
  onWithdraw: (why: string) => void
  onDone: () => void
}) {
  const [why, setWhy] = useState("")
  return (
    <form
      className="mt-1 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (why.trim()) onWithdraw(why)
      }}
    >
      <div className="w-60">
        <TextField
          label="Why does it count no more?"
          value={why}
          onText={setWhy}
          maxLength={500}
          autoFocus
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-sm"
        busy={pending}
        needs={!why.trim() && "Needs a reason."}
      >
        Withdraw
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
        Cancel
      </button>
      <ProblemNote error={error} />
    </form>
  )
}

import { useState } from "react"
import type { Schemas } from "../api/client"
import { useWithdrawJudgement } from "../api/judgements"
import { day } from "../theme/format"
import { Writes } from "./Reading"
import { WithdrawForm } from "./WithdrawForm"

/** Who said a word on sameness and when, and how it is taken back. */
export function WithdrawWord({ slug, word }: { slug: string; word: Schemas["Judgement"] }) {
  const [open, setOpen] = useState(false)
  const withdraw = useWithdrawJudgement(slug)
  return (
    <span className="block text-13 text-mute">
      {word.who}, {day(word.noted_at.slice(0, 10))}.{" "}
      <Writes>
        {open ? (
          <WithdrawForm
            pending={withdraw.isPending}
            error={withdraw.error}
            onWithdraw={(why) => withdraw.mutate({ id: word.id, why })}
            onDone={() => setOpen(false)}
          />
        ) : (
          <button type="button" className="underline" onClick={() => setOpen(true)}>
            Undo
          </button>
        )}
      </Writes>
    </span>
  )
}

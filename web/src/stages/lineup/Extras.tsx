import type { FormEvent } from "react"
import { problemOf } from "../../api/client"
import { useAddExtra } from "../../api/prices"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { Writes } from "../../parts/Reading"
import { useSentText } from "../../parts/useSentText"
import { money } from "../../theme/format"
import { today } from "./AddPrice"
import type { Setup } from "./specs"

/** What a setup needed besides its machine, such as a dock; part of the price as tested. */
export function Extras({
  slug,
  setup,
  currency,
}: {
  slug: string
  setup: Setup
  /** Of the shootout, three letters. */
  currency: string
}) {
  const { text: name, setText: setName, sent: nameSent } = useSentText()
  const { text: amount, setText: setAmount, sent: amountSent } = useSentText()
  const add = useAddExtra(slug)
  const problem = problemOf(add.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const backs = [nameSent(), amountSent()]
    const back = () => {
      for (const { onError } of backs) onError()
    }
    add.mutate(
      { id: setup.id, body: { name, amount, currency, dated: today() } },
      { onError: back },
    )
  }
  return (
    <div className="mb-2 pl-3 text-13">
      <ul>
        {setup.extras.map((extra) => (
          <li key={extra.id} className="flex justify-between gap-2">
            <span className="min-w-0 break-words">{extra.name}</span>
            <span className="figure whitespace-nowrap">
              {money(extra.amount)} <span className="text-mute">{extra.currency}</span>
            </span>
          </li>
        ))}
      </ul>
      <Writes>
        <form onSubmit={submit} className="mt-1 flex items-end gap-2">
          <div className="flex-1">
            <TextField
              label="Extra"
              placeholder="dock"
              value={name}
              onText={setName}
              maxLength={120}
            />
          </div>
          <div className="w-20">
            <TextField
              label={currency}
              value={amount}
              onText={setAmount}
              error={problem ? problem.detail : null}
            />
          </div>
          <ActButton
            type="submit"
            className="btn btn-sm"
            needs={(!name.trim() || !amount.trim()) && "Needs what it is and a price."}
            aria-label={`Add extra to ${setup.label}`}
          >
            Add
          </ActButton>
        </form>
      </Writes>
    </div>
  )
}

import { type FormEvent, useState } from "react"
import { useOverrule, useWithdraw } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { JudgeForm } from "../../parts/JudgeForm"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { NotePart } from "../../parts/SideNote"
import { WithdrawWord } from "../../parts/WithdrawWord"
import { count } from "../../theme/format"

type Line = Schemas["ParityLine"]

/** What differed between the two besides speed, and a person's word on what breaks. */
export function FairTest({ slug, pair }: { slug: string; pair: Schemas["PairView"] }) {
  const heavy = pair.parity.filter((line) => line.weight !== "allowed")
  const allowed = pair.parity.filter((line) => line.weight === "allowed")
  return (
    <NotePart title="Was it fair?">
      {heavy.length === 0 && <p>Nothing else differed, as far as noted.</p>}
      <ul className="space-y-1.5">
        {heavy.map((line) => (
          <ParityItem key={keyOf(line)} slug={slug} pair={pair} line={line} />
        ))}
      </ul>
      {pair.key !== "mix" && !pair.parity.some((line) => line.judgement) && (
        <Writes>
          <JudgeForm
            slug={slug}
            taskId={pair.key}
            about={{ setup_id: pair.a_id, other_setup_id: pair.b_id }}
            open="Say that it was not the same job"
          />
        </Writes>
      )}
      {allowed.length > 0 && (
        <details className="mt-2">
          <summary className="text-13 text-mute">
            {count(allowed.length, "expected difference")}
          </summary>
          <ul className="mt-1 space-y-1 text-13 text-mute">
            {allowed.map((line) => (
              <li key={keyOf(line)}>
                {line.condition}: {line.here} against {line.there}
                {line.why && ` (${line.why})`}
              </li>
            ))}
          </ul>
        </details>
      )}
    </NotePart>
  )
}

function keyOf(line: Line): string {
  return `${line.condition} ${line.here} ${line.there}`
}

function ParityItem({ slug, pair, line }: { slug: string; pair: Schemas["PairView"]; line: Line }) {
  const withdraw = useWithdraw(slug)
  const breaks = line.weight === "breaks"
  return (
    <li className={`border-l-2 pl-2 ${breaks && !line.overrule ? "border-accent" : "border-line"}`}>
      <strong className={breaks && !line.overrule ? "text-accent" : ""}>
        {line.condition}: {line.there ? `${line.here} against ${line.there}` : line.here}.
      </strong>
      <span className="block text-13">
        {breaks ? "Not comparable" : "Could affect the times"}
        {line.tasks.length > 0 && ` on ${line.tasks.join(", ")}`}
        {line.why && `: ${line.why}`}.
      </span>
      {line.judgement && <WithdrawWord slug={slug} word={line.judgement} />}
      {line.overrule && (
        <span className="block text-13 text-mute">
          Accepted by {line.overrule.who}: {line.overrule.reason}.{" "}
          <Writes>
            <button
              type="button"
              className="underline"
              onClick={() => line.overrule && withdraw.mutate(line.overrule.id)}
            >
              Withdraw
            </button>
          </Writes>
        </span>
      )}
      {breaks && !line.overrule && !line.judgement && pair.key !== "mix" && (
        <Writes>
          <Overrule slug={slug} pair={pair} />
        </Writes>
      )}
      {breaks && !line.overrule && !line.judgement && pair.key === "mix" && (
        <span className="block text-13 text-mute">Choose the task to accept it there.</span>
      )}
      <ProblemNote error={withdraw.error} />
    </li>
  )
}

function Overrule({ slug, pair }: { slug: string; pair: Schemas["PairView"] }) {
  const [open, setOpen] = useState(false)
  const [reason, setReason] = useState("")
  const overrule = useOverrule(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    overrule.mutate({ taskId: pair.key, a: pair.a_id, b: pair.b_id, reason })
  }
  if (!open) {
    return (
      <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
        Accept anyway
      </button>
    )
  }
  return (
    <form onSubmit={submit} className="mt-1 space-y-1">
      <TextField
        label="Why does it not matter? Your reason is printed with the result."
        value={reason}
        onText={setReason}
        maxLength={500}
        autoFocus
      />
      <ActButton
        type="submit"
        className="btn btn-primary btn-xs"
        needs={!reason.trim() && "Needs a reason."}
      >
        Accept with this reason
      </ActButton>
      <ProblemNote error={overrule.error} />
    </form>
  )
}

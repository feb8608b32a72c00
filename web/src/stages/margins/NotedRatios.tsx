import { type FormEvent, useState } from "react"
import { clientKey } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { useNoteRatio, useWithdrawRatio } from "../../api/margins"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { NotePart } from "../../parts/SideNote"
import { WithdrawForm } from "../../parts/WithdrawForm"

const STATUS: Record<string, string> = {
  "stands in": "nothing was measured here, so it stands in",
  "measured stands": "what was measured here counts",
  "bound stands": "a bound of our own counts",
  "earlier note stands": "an earlier note counts",
}

/** Ratios that somebody else says of a pair: apart from what was measured, with their source. */
export function NotedRatios({ slug, pair }: { slug: string; pair: Schemas["PairView"] }) {
  const [open, setOpen] = useState(false)
  if (pair.key === "mix") return null
  return (
    <NotePart title="Said elsewhere, without times">
      <ul className="space-y-1.5 text-13">
        {pair.noted.map((line) => (
          <OneRatio key={line.id} slug={slug} line={line} />
        ))}
      </ul>
      {open ? (
        <NewRatio slug={slug} pair={pair} onDone={() => setOpen(false)} />
      ) : (
        <Writes>
          <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
            Note a ratio
          </button>
        </Writes>
      )}
    </NotePart>
  )
}

function OneRatio({ slug, line }: { slug: string; line: Schemas["NotedLine"] }) {
  const withdraw = useWithdrawRatio(slug)
  const [asking, setAsking] = useState(false)
  const gone = line.status === "withdrawn"
  return (
    <li className={`border-l-2 pl-2 ${line.agrees === false ? "border-accent" : "border-line"}`}>
      <span className={gone ? "text-mute line-through" : "font-bold"}>{line.words}</span>,{" "}
      {line.source}
      <span className="block text-mute">
        {gone ? `withdrawn: ${line.withdrawn_why}` : STATUS[line.status]}
        {line.agrees === true && "; the two agree"}
        {line.agrees === false && "; the two do not agree"}
      </span>
      {!gone && (
        <Writes>
          {!asking ? (
            <button type="button" className="text-mute underline" onClick={() => setAsking(true)}>
              Withdraw
            </button>
          ) : (
            <WithdrawForm
              pending={withdraw.isPending}
              error={withdraw.error}
              onWithdraw={(why) => withdraw.mutate({ id: line.id, why })}
              onDone={() => setAsking(false)}
            />
          )}
        </Writes>
      )}
    </li>
  )
}

function NewRatio({
  slug,
  pair,
  onDone,
}: {
  slug: string
  pair: Schemas["PairView"]
  onDone: () => void
}) {
  const [typed, setTyped] = useState("")
  const [source, setSource] = useState("")
  const note = useNoteRatio(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    note.mutate(
      {
        task: pair.key,
        setup_id: pair.a_id,
        against_id: pair.b_id,
        typed,
        source,
        client_key: clientKey(),
      },
      { onSuccess: onDone },
    )
  }
  return (
    <form className="mt-2 space-y-2" onSubmit={submit}>
      <TextField
        label={`${pair.a} is … ${pair.b}`}
        hint="Such as 38 % faster, 3.2 times, over 15x, slower"
        value={typed}
        onText={setTyped}
        maxLength={60}
        autoFocus
      />
      <TextField label="Source?" value={source} onText={setSource} maxLength={200} />
      <div className="flex gap-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          busy={note.isPending}
          needs={!typed.trim() && "Needs what was noted."}
        >
          Save
        </ActButton>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onDone}>
          Cancel
        </button>
      </div>
      <ProblemNote error={note.error} />
    </form>
  )
}

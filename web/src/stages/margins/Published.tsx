import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useNotePublished, useWithdrawPublished } from "../../api/margins"
import { ActButton } from "../../parts/ActButton"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { NotePart } from "../../parts/SideNote"
import { compact, readNumber } from "../../theme/format"

type Kind = Schemas["NewPublishedFigure"]["kind"]

/** Figures that others published of a pair, beside ours; they never count. */
export function Published({ slug, pair }: { slug: string; pair: Schemas["PairView"] }) {
  const withdraw = useWithdrawPublished(slug)
  const [open, setOpen] = useState(false)
  return (
    <NotePart title="Other people's results">
      {pair.published.length === 0 && !open && <p className="text-13 text-mute">None added yet.</p>}
      <ul className="space-y-1.5">
        {pair.published.map(({ figure, inside, words }) => (
          <li
            key={figure.id}
            className={`border-l-2 pl-2 ${inside === false ? "border-accent" : "border-line"}`}
          >
            <strong className="figure">
              {compact(figure.value)}
              {figure.kind === "value" ? "" : ` ${figure.kind}`}
            </strong>
            <span className="text-13">, {figure.source}</span>
            <span className="block text-13">{words}</span>
            <Writes>
              <button
                type="button"
                className="text-13 text-mute underline"
                onClick={() => withdraw.mutate(figure.id)}
              >
                Withdraw
              </button>
            </Writes>
          </li>
        ))}
      </ul>
      {open ? (
        <NoteOne slug={slug} pair={pair} onDone={() => setOpen(false)} />
      ) : (
        <Writes>
          <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
            Add a result
          </button>
        </Writes>
      )}
      <ProblemNote error={withdraw.error} />
    </NotePart>
  )
}

function NoteOne({
  slug,
  pair,
  onDone,
}: {
  slug: string
  pair: Schemas["PairView"]
  onDone: () => void
}) {
  const [kind, setKind] = useState<Kind>("times as fast")
  const [alone, setAlone] = useState("a")
  const [text, setText] = useState("")
  const [source, setSource] = useState("")
  const note = useNotePublished(slug)
  const value = readNumber(text) ?? Number.NaN
  const setup = alone === "a" ? pair.a_id : pair.b_id
  const submit = (event: FormEvent) => {
    event.preventDefault()
    note.mutate(
      {
        task_id: pair.key === "mix" ? null : pair.key,
        setup_a_id: kind === "value" ? setup : pair.a_id,
        setup_b_id: kind === "value" ? null : pair.b_id,
        kind,
        value,
        source,
      },
      { onSuccess: onDone },
    )
  }
  return (
    <form onSubmit={submit} className="mt-1 space-y-2">
      <Field label={`${pair.a} over ${pair.b}, published as`}>
        {(id) => (
          <select
            id={id}
            className="select select-sm w-full bg-page"
            value={kind}
            onChange={(event) => setKind(event.target.value as Kind)}
          >
            <option value="times as fast">times as fast</option>
            <option value="% faster">% faster</option>
            <option value="% less time">% less time</option>
            {pair.key !== "mix" && (
              <option value="value">
                {pair.measure === "time" ? "seconds of one setup" : "amount of one setup"}
              </option>
            )}
          </select>
        )}
      </Field>
      {kind === "value" && (
        <Field label="Of which setup">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-full bg-page"
              value={alone}
              onChange={(event) => setAlone(event.target.value)}
            >
              <option value="a">{pair.a}</option>
              <option value="b">{pair.b}</option>
            </select>
          )}
        </Field>
      )}
      <TextField label="Figure" value={text} onText={setText} inputMode="decimal" maxLength={20} />
      <TextField label="Who published it, when" value={source} onText={setSource} maxLength={200} />
      <ActButton
        type="submit"
        className="btn btn-primary btn-xs"
        busy={note.isPending}
        needs={(!(value > 0) || !source.trim()) && "Needs a figure over 0 and where it stands."}
      >
        Add
      </ActButton>
      <ProblemNote error={note.error} />
    </form>
  )
}

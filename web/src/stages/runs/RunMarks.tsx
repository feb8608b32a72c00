import { useState } from "react"
import type { Schemas } from "../../api/client"
import { useNoteReading, usePutMarkRight } from "../../api/runs"
import { markWords, readLate } from "../../lanes/marks"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading, Writes } from "../../parts/Reading"
import { NotePart } from "../../parts/SideNote"
import { useSentText } from "../../parts/useSentText"
import { clock, count, percent } from "../../theme/format"

type Mark = Schemas["Mark"]
const SHOWN = 6
const EXAMPLES = "63 % at 7:20 · 41 dB · 88 °C at 5:00 · 120 W · 12 GB · file 1.2 GB"

/** The readings inside a run, more that are typed afterwards, and how wrong the app's own were. */
export function RunMarks({ slug, detail }: { slug: string; detail: Schemas["RunDetail"] }) {
  const { marks, estimates } = detail
  const reading = useReading()
  const [all, setAll] = useState(false)
  if (reading && marks.length === 0) return null
  const standing = marks.filter((mark) => mark.withdrawn_why === null)
  const step = Math.max(1, Math.ceil(standing.length / SHOWN))
  const kept = new Set(
    standing.filter((mark, place) => place % step === 0 || mark.event !== null).map((m) => m.id),
  )
  const shown = all ? marks : marks.filter((mark) => kept.has(mark.id))
  const first = estimates[0]
  const worst = [...estimates].sort((a, b) => Math.abs(b.error_s) - Math.abs(a.error_s))[0]
  return (
    <NotePart title="Readings">
      <ol className="text-13">
        {shown.map((mark) => (
          <MarkLine key={mark.id} slug={slug} mark={mark} />
        ))}
      </ol>
      {(shown.length < marks.length || all) && (
        <button type="button" className="text-12 text-mute underline" onClick={() => setAll(!all)}>
          {all ? "Fewer" : `All ${count(marks.length, "reading")}, withdrawn ones too`}
        </button>
      )}
      {first && worst && detail.run.value !== null && (
        <p className="mt-1 text-13">
          The app’s own estimate was {wrong(first)} at {clock(first.elapsed_s)}
          {worst.elapsed_s !== first.elapsed_s &&
            `, and at worst ${wrong(worst)} at ${clock(worst.elapsed_s)}`}
          : {percent(Math.abs(worst.error_s) / detail.run.value, 0)} of the run.
        </p>
      )}
      <Writes>
        <AddReading slug={slug} runId={detail.run.id} />
      </Writes>
    </NotePart>
  )
}

function MarkLine({ slug, mark }: { slug: string; mark: Mark }) {
  const [open, setOpen] = useState(false)
  const gone = mark.withdrawn_why !== null
  return (
    <li className="border-b border-line py-0.5">
      <span className="flex gap-2">
        <span className="figure w-12 shrink-0 text-right">{clock(mark.elapsed_s)}</span>
        <span className={`min-w-0 grow break-words ${gone ? "text-mute line-through" : ""}`}>
          {markWords(mark)}
        </span>
        {!gone && (
          <Writes>
            <button
              type="button"
              className="shrink-0 text-mute underline"
              aria-label={`Fix: ${markWords(mark)}`}
              onClick={() => setOpen(!open)}
            >
              Fix
            </button>
          </Writes>
        )}
      </span>
      {gone && <span className="block pl-14 text-12 text-mute">{mark.withdrawn_why}</span>}
      {open && <PutRight slug={slug} mark={mark} onDone={() => setOpen(false)} />}
    </li>
  )
}

function PutRight({ slug, mark, onDone }: { slug: string; mark: Mark; onDone: () => void }) {
  const [text, setText] = useState("")
  const [why, setWhy] = useState("")
  const put = usePutMarkRight(slug)
  const said = readLate(text)
  const bad = text.trim() !== "" && said === null
  return (
    <form
      aria-label="Correct a reading"
      className="space-y-1 py-1"
      onSubmit={(event) => {
        event.preventDefault()
        if (!why.trim() || bad) return
        const instead = said && { ...said, elapsed_s: said.elapsed_s ?? mark.elapsed_s }
        put.mutate({ id: mark.id, why, instead }, { onSuccess: onDone })
      }}
    >
      <TextField
        label="It was (empty: nothing)"
        value={text}
        onText={setText}
        placeholder={markWords(mark)}
        hint={said ? `understood: ${markWords(said)}` : null}
        error={bad ? `Type it like ${EXAMPLES}.` : null}
        autoFocus
      />
      <TextField label="Why was it wrong?" value={why} onText={setWhy} maxLength={500} />
      <ActButton
        type="submit"
        className="btn btn-primary btn-xs"
        busy={put.isPending}
        needs={
          !why.trim() ? "Needs a reason." : bad && "Needs a mark that can be read, such as 35 %."
        }
      >
        Fix it
      </ActButton>
      <ProblemNote error={put.error} />
    </form>
  )
}

function AddReading({ slug, runId }: { slug: string; runId: string }) {
  const { text, setText, sent } = useSentText()
  const add = useNoteReading(slug, runId)
  const said = readLate(text)
  const bad = text.trim() !== "" && said === null
  const at = said?.elapsed_s ?? null
  const understood = said && `${markWords(said)}, ${at === null ? "at its end" : `at ${clock(at)}`}`
  return (
    <form
      className="mt-2 flex items-start gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (said) add.mutate(said, sent())
      }}
    >
      <div className="min-w-0 grow">
        <TextField
          label="Another reading"
          value={text}
          onText={setText}
          maxLength={200}
          hint={understood ? `understood: ${understood}` : EXAMPLES}
          error={bad ? "This is no reading." : null}
        />
      </div>
      <ActButton
        type="submit"
        className="btn btn-sm mt-5"
        needs={!said && "Needs a mark that can be read, such as 35 % at 2:10."}
      >
        Keep
      </ActButton>
      <ProblemNote error={add.error} />
    </form>
  )
}

function wrong({ error_s }: Schemas["OwnEstimate"]): string {
  if (Math.abs(error_s) < 0.5) return "right"
  return `${clock(Math.abs(error_s))} too ${error_s > 0 ? "late" : "soon"}`
}

import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useOpenInquiry } from "../../api/margins"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

type Finding = Schemas["FindingView"]

/** Causes to tick and a note: opens a follow-up, or says why the result is left as it is. */
export function LookInto({
  slug,
  finding,
  onDone,
}: {
  slug: string
  /** Null for something that no figure says. */
  finding: Finding | null
  onDone: () => void
}) {
  const [about, setAbout] = useState(finding?.words.slice(0, 500) ?? "")
  const [ticked, setTicked] = useState<string[]>([])
  const [note, setNote] = useState("")
  const open = useOpenInquiry(slug)
  const causes = ticked.join(", ")
  const suspected = [ticked.join(", "), note.trim()].filter(Boolean).join(": ")
  const send = (outcome: string | null) =>
    open.mutate(
      {
        kind: (finding?.kind ?? "other") as Schemas["NewInquiry"]["kind"],
        about,
        suspected: outcome === null ? suspected : causes || "no cause known",
        task_id: finding?.task_id ?? null,
        setup_a_id: finding?.a_id ?? null,
        setup_b_id: finding?.b_id ?? null,
        outcome,
      },
      { onSuccess: onDone },
    )
  const submit = (event: FormEvent) => {
    event.preventDefault()
    send(null)
  }
  return (
    <form onSubmit={submit} aria-label="Look into it" className="max-w-xl space-y-2">
      {finding === null ? (
        <TextField label="What is odd?" value={about} onText={setAbout} maxLength={500} />
      ) : (
        <Causes causes={finding.causes} ticked={ticked} onTicked={setTicked} />
      )}
      <TextField
        label={finding === null ? "What do you suspect?" : "Note"}
        value={note}
        onText={setNote}
        maxLength={800}
        autoFocus={finding === null}
      />
      <div className="flex flex-wrap gap-2">
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          busy={open.isPending}
          needs={
            (!suspected || !about.trim()) &&
            (finding ? "Needs a cause or a note." : "Needs what is odd and what you suspect.")
          }
        >
          Look into it
        </ActButton>
        {finding && (
          <ActButton
            type="button"
            className="btn btn-sm"
            busy={open.isPending}
            needs={!note.trim() && "Needs the reason as a note."}
            onClick={() => send(note.trim())}
          >
            Ignore with a reason
          </ActButton>
        )}
      </div>
      {!suspected && finding && (
        <p className="text-13 text-mute">Tick a cause or write a note. To ignore it, write why.</p>
      )}
      <ProblemNote error={open.error} />
    </form>
  )
}

function Causes({
  causes,
  ticked,
  onTicked,
}: {
  causes: string[]
  ticked: string[]
  onTicked: (ticked: string[]) => void
}) {
  const toggle = (cause: string) =>
    onTicked(causes.filter((each) => ticked.includes(each) !== (each === cause)))
  return (
    <fieldset>
      <legend className="text-13 font-bold">Possible causes</legend>
      <div className="mt-1 grid gap-x-4 gap-y-1 sm:grid-cols-2">
        {causes.map((cause) => (
          <label key={cause} className="flex items-center gap-2 py-0.5">
            <input
              type="checkbox"
              className="checkbox checkbox-sm"
              checked={ticked.includes(cause)}
              onChange={() => toggle(cause)}
            />
            {cause}
          </label>
        ))}
      </div>
    </fieldset>
  )
}

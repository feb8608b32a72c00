import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { outOfLineQuery, useOpenInquiry } from "../../api/margins"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { Inquiry } from "./Inquiry"

type Finding = Schemas["FindingView"]

/** What looks wrong by the figures, and the inquiries that were opened on it. */
export function OutOfLine({ slug }: { slug: string }) {
  const { data, error } = useQuery(outOfLineQuery(slug))
  const [own, setOwn] = useState(false)
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Loading…</p>
  return (
    <div className="max-w-3xl space-y-6">
      <section aria-label="By the figures">
        {data.findings.length === 0 ? (
          <p>Nothing looks odd.</p>
        ) : (
          <ul>
            {data.findings.map((finding) => (
              <li key={`${finding.kind} ${finding.words}`} className="border-t border-line py-2">
                <FindingItem slug={slug} finding={finding} />
              </li>
            ))}
          </ul>
        )}
        {own ? (
          <OpenInquiry slug={slug} finding={null} onDone={() => setOwn(false)} />
        ) : (
          <Writes>
            <button type="button" className="btn btn-xs mt-2" onClick={() => setOwn(true)}>
              Note something else
            </button>
          </Writes>
        )}
      </section>
      {data.inquiries.length > 0 && (
        <section aria-label="Follow-ups">
          <h2 className="mb-1 text-[15px]">Follow-ups</h2>
          <ul>
            {data.inquiries.map((view) => (
              <li key={view.inquiry.id} className="border-t border-line py-2">
                <Inquiry slug={slug} view={view} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

function FindingItem({ slug, finding }: { slug: string; finding: Finding }) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <p className="font-bold">{finding.words}</p>
      <p className="text-[13px] text-mute">Possible causes: {finding.look}.</p>
      {finding.inquiry_id ? (
        <p className="text-[13px] text-mute">Being followed up, below.</p>
      ) : open ? (
        <OpenInquiry slug={slug} finding={finding} onDone={() => setOpen(false)} />
      ) : (
        <Writes>
          <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
            Look into it
          </button>
        </Writes>
      )}
    </>
  )
}

function OpenInquiry({
  slug,
  finding,
  onDone,
}: {
  slug: string
  finding: Finding | null
  onDone: () => void
}) {
  const [about, setAbout] = useState(finding?.words.slice(0, 500) ?? "")
  const [suspected, setSuspected] = useState("")
  const open = useOpenInquiry(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    open.mutate(
      {
        kind: (finding?.kind ?? "other") as Schemas["NewInquiry"]["kind"],
        about,
        suspected,
        task_id: finding?.task_id ?? null,
        setup_a_id: finding?.a_id ?? null,
        setup_b_id: finding?.b_id ?? null,
      },
      { onSuccess: onDone },
    )
  }
  return (
    <form onSubmit={submit} className="mt-2 max-w-xl space-y-2">
      {finding === null && (
        <TextField label="What is odd?" value={about} onText={setAbout} maxLength={500} />
      )}
      <TextField
        label="What do you suspect?"
        value={suspected}
        onText={setSuspected}
        maxLength={1000}
        autoFocus
      />
      <button
        type="submit"
        className="btn btn-primary btn-xs"
        disabled={!suspected.trim() || !about.trim() || open.isPending}
      >
        Look into it
      </button>
      <ProblemNote error={open.error} />
    </form>
  )
}

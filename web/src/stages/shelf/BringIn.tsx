import { useNavigate } from "@tanstack/react-router"
import { useState } from "react"
import { importPack, previewPack, updateFromPack } from "../../api/changes"
import type { Schemas } from "../../api/client"
import type { Job } from "../../api/jobs"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"

type Looked = { file: File; preview: Schemas["PackPreview"] }

/** Brings a data pack in: as a new shootout, or into the one that it came from. */
export function BringIn() {
  const [error, setError] = useState<unknown>(null)
  const [looked, setLooked] = useState<Looked | null>(null)
  const [busy, setBusy] = useState("")
  const navigate = useNavigate()
  const open = (slug: string) => navigate({ to: "/s/$slug/margins", params: { slug } })
  const doing = async (words: string, work: () => Promise<unknown>) => {
    setError(null)
    setBusy(words)
    try {
      await work()
    } catch (caught) {
      setError(caught)
    } finally {
      setBusy("")
    }
  }
  const tell = ({ step, done }: Job) => setBusy(`${Math.round(100 * done)} %: ${step}…`)
  const look = (file: File | undefined) => {
    if (!file) return
    setLooked(null)
    void doing("Reading the pack…", async () => {
      const preview = await previewPack(file)
      if (preview.slug !== null) setLooked({ file, preview })
      else await open(await importPack(file, tell))
    })
  }
  return (
    <div className="mt-6 text-13">
      <label className="text-mute">
        Or import a data pack (.zip):{" "}
        <input
          type="file"
          accept=".zip,application/zip"
          className="file-input file-input-sm bg-page text-base-content"
          onChange={(event) => {
            look(event.target.files?.[0])
            event.target.value = ""
          }}
        />
      </label>
      <span className="ml-2 text-mute" aria-live="polite">
        {busy}
      </span>
      <ProblemNote error={error} />
      {looked && (
        <WouldDo
          preview={looked.preview}
          busy={busy !== ""}
          onUpdate={() =>
            void doing("Updating…", async () =>
              open(await updateFromPack(looked.file, looked.preview, tell)),
            )
          }
          onCopy={() =>
            void doing("Importing…", async () => open(await importPack(looked.file, tell)))
          }
          onLeave={() => setLooked(null)}
        />
      )}
    </div>
  )
}

/** What a pack of a shootout that is here already would change, and what can be done with it. */
function WouldDo({
  preview,
  busy,
  onUpdate,
  onCopy,
  onLeave,
}: {
  preview: Schemas["PackPreview"]
  busy: boolean
  onUpdate: () => void
  onCopy: () => void
  onLeave: () => void
}) {
  return (
    <section aria-label="What the pack would do" className="mt-3 border-l-2 border-line pl-3">
      <p>
        This is a pack of <strong>{preview.name}</strong>, which is here already; it holds{" "}
        {count(preview.runs, "run")}.
      </p>
      <Lines title="Would be added" none="Nothing new in this pack." lines={preview.takes} />
      <Lines title="Stays as it is" none="" lines={preview.stays} />
      <div className="mt-2 flex flex-wrap gap-2">
        {preview.takes.length > 0 && (
          <ActButton
            type="button"
            className="btn btn-sm btn-primary h-8"
            busy={busy}
            onClick={onUpdate}
          >
            Update this one
          </ActButton>
        )}
        <ActButton type="button" className="btn btn-sm h-8" busy={busy} onClick={onCopy}>
          Import as a copy
        </ActButton>
        <button type="button" className="underline" onClick={onLeave}>
          Cancel
        </button>
      </div>
    </section>
  )
}

function Lines({ title, none, lines }: { title: string; none: string; lines: string[] }) {
  if (lines.length === 0 && none === "") return null
  return (
    <>
      <p className="mt-2 text-mute">{title}</p>
      {lines.length === 0 && <p>{none}</p>}
      <ul>
        {lines.map((line) => (
          <li key={line} className="break-words">
            {line}
          </li>
        ))}
      </ul>
    </>
  )
}

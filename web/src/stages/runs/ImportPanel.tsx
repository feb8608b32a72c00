import { useState } from "react"
import type { Schemas } from "../../api/client"
import { Field } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"
import { ImportPreview } from "./ImportPreview"
import { useImport } from "./useImport"

const EXAMPLE = "setup,task,value,reading\nHalyard L,Lantern parade,3:59,log"
const MOST_BYTES = 20_000_000

/** Brings a table of runs in: shown first, stored only when confirmed. */
export function ImportPanel({ slug, onClose }: { slug: string; onClose: () => void }) {
  const table = useImport(slug)
  const [text, setText] = useState("")
  const [refused, setRefused] = useState<string | null>(null)
  const readFile = async (file: File | undefined) => {
    if (!file) return
    if (file.size > MOST_BYTES) {
      setRefused(`${file.name} is larger than 20 MB; split it.`)
      return
    }
    const content = await file.text()
    if (content.includes("\uFFFD")) {
      setRefused(`${file.name} is not UTF-8 text; save it as “CSV UTF-8” and bring it in again.`)
      return
    }
    setRefused(null)
    setText(content)
    table.start(content)
  }
  if (table.result) {
    return <Stored result={table.result} onClose={onClose} />
  }
  if (table.preview) {
    return <ImportPreview preview={table.preview} table={table} onClose={onClose} />
  }
  return (
    <div className="max-w-3xl space-y-3">
      <Field
        label="Paste a table of runs; its first line names the columns"
        hint="Comma, semicolon or tab. Needs setup, task and value; knows round, order, reading, status, note."
      >
        {(id, described) => (
          <textarea
            id={id}
            aria-describedby={described}
            className="figure textarea h-48 w-full bg-page text-[13px]"
            placeholder={EXAMPLE}
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
        )}
      </Field>
      <div className="flex flex-wrap items-center gap-3">
        <button
          type="button"
          className="btn btn-primary btn-sm"
          disabled={!text.trim() || table.busy}
          onClick={() => table.start(text)}
        >
          Show what it means
        </button>
        <label className="text-[13px] text-mute">
          or a file:{" "}
          <input
            type="file"
            className="file-input file-input-sm bg-page text-base-content"
            accept=".csv,.tsv,.txt,text/csv"
            onChange={(event) => void readFile(event.target.files?.[0])}
          />
        </label>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Cancel
        </button>
      </div>
      {refused && (
        <p role="alert" className="text-accent">
          {refused}
        </p>
      )}
      <ProblemNote error={table.error} />
    </div>
  )
}

/** What came of a table. */
function Stored({ result, onClose }: { result: Schemas["ImportResult"]; onClose: () => void }) {
  const { stored, already_there, left_out } = result
  return (
    <div role="status" className="max-w-xl space-y-3">
      <p>
        <strong>{count(stored, "run")} stored.</strong>
        {already_there > 0 && ` ${already_there} were in the book already.`}
        {left_out.length > 0 && ` Left out: line ${left_out.join(", ")}.`}
      </p>
      <button type="button" className="btn btn-primary btn-sm" onClick={onClose}>
        See the book
      </button>
    </div>
  )
}

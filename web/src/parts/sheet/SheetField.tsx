import { useState } from "react"
import { ActButton } from "../ActButton"
import { Field } from "../Field"

const MOST_BYTES = 20_000_000

/** Where a table is pasted, typed line by line, or read from a file. */
export function SheetField({
  label,
  hint,
  example,
  busy,
  onText,
  onCancel,
}: {
  label: string
  hint: string
  example: string
  busy: boolean
  onText: (text: string) => void
  onCancel?: () => void
}) {
  const [text, setText] = useState("")
  const [refused, setRefused] = useState<string | null>(null)
  const readFile = async (file: File | undefined) => {
    if (!file) return
    if (file.size > MOST_BYTES) {
      setRefused(`${file.name} is larger than 20 MB. Split it and import the parts.`)
      return
    }
    const content = await file.text()
    if (content.includes("\uFFFD")) {
      setRefused(`${file.name} is not UTF-8 text. Save it as “CSV UTF-8” and import it again.`)
      return
    }
    setRefused(null)
    setText(content)
    onText(content)
  }
  return (
    <form
      className="max-w-3xl space-y-3"
      onSubmit={(event) => {
        event.preventDefault()
        if (text.trim()) onText(text)
      }}
    >
      <Field label={label} hint={hint}>
        {(id, described) => (
          <textarea
            id={id}
            aria-describedby={described}
            className="figure textarea h-48 w-full bg-page text-13"
            placeholder={example}
            value={text}
            onChange={(event) => setText(event.target.value)}
            onPaste={(event) => {
              const pasted = event.clipboardData.getData("text/plain")
              // A whole table into an empty field: it is read at once, as it would be by a button.
              if (!text && pasted.includes("\n")) {
                event.preventDefault()
                setText(pasted)
                onText(pasted)
              }
            }}
          />
        )}
      </Field>
      <div className="flex flex-wrap items-center gap-3">
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          busy={busy}
          needs={!text.trim() && "Paste something first."}
        >
          {busy ? "Reading…" : "Preview"}
        </ActButton>
        <label className="text-13 text-mute">
          or a file:{" "}
          <input
            type="file"
            className="file-input file-input-sm bg-page text-base-content"
            accept=".csv,.tsv,.txt,.md,text/csv"
            onChange={(event) => {
              void readFile(event.target.files?.[0])
              event.target.value = ""
            }}
          />
        </label>
        {onCancel && (
          <button type="button" className="btn btn-ghost btn-sm" onClick={onCancel}>
            Cancel
          </button>
        )}
      </div>
      {refused && (
        <p role="alert" className="text-accent">
          {refused}
        </p>
      )}
    </form>
  )
}

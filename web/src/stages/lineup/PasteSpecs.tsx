import { useEffect, useState } from "react"
import { useCommitSpecs, usePreviewSpecs } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { Field } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"

const EXAMPLE = "\tTarn Desk\tHalyard L\nCores\t6\t12\nMemory\t24 GB\t32 GB"

/** Brings specs in from a spreadsheet or a spec file: shown first, stored when confirmed. */
export function PasteSpecs({
  slug,
  given = "",
  onClose,
}: {
  slug: string
  /** What the form starts with: a file that was dropped on a machine. */
  given?: string
  onClose: () => void
}) {
  const [text, setText] = useState(given)
  const preview = usePreviewSpecs(slug)
  const commit = useCommitSpecs(slug)
  const type = (next: string) => {
    setText(next)
    preview.reset()
    commit.reset()
  }
  const read = async (file: File | undefined) => {
    if (!file) return
    const content = await file.text()
    type(content)
    preview.mutate(content)
  }
  const { mutate } = preview
  useEffect(() => {
    if (given) mutate(given)
  }, [given, mutate])
  const shown = preview.data
  const ready = shown && shown.bad === 0 && (shown.changes.length > 0 || shown.new.length > 0)
  return (
    <section
      aria-label="Paste specs"
      className="mb-4 max-w-4xl space-y-3 border-y border-line bg-base-200 px-3 py-3"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        const file = event.dataTransfer.files[0]
        if (!file) return
        event.preventDefault()
        void read(file)
      }}
    >
      <SpecText text={text} onText={type} />
      <div className="flex flex-wrap gap-2">
        <ActButton
          type="button"
          className="btn btn-sm"
          needs={!text.trim() && "Paste something first."}
          onClick={() => preview.mutate(text)}
        >
          Preview
        </ActButton>
        {ready && (
          <ActButton
            type="button"
            className="btn btn-primary btn-sm"
            busy={commit.isPending}
            onClick={() => commit.mutate(text, { onSuccess: onClose })}
          >
            Store {count(shown.changes.length, "change")}
          </ActButton>
        )}
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Cancel
        </button>
      </div>
      {shown && <Changes preview={shown} />}
      <ProblemNote error={commit.error ?? preview.error} />
    </section>
  )
}

function Changes({ preview }: { preview: Schemas["SpecPreview"] }) {
  return (
    <div>
      <p>
        <strong>Nothing is stored yet.</strong> {count(preview.changes.length, "change")}
        {preview.bad > 0 && <span className="text-accent">, {preview.bad} cannot be stored</span>}.
        {preview.new.length > 0 && ` New machines: ${preview.new.join(", ")}.`}
        {preview.unknown.length > 0 && (
          <span className="text-mute"> Ignored (unknown rows): {preview.unknown.join(", ")}.</span>
        )}
      </p>
      <table className="mt-2 w-full border-collapse text-13" aria-label="Changes">
        <tbody>
          {preview.changes.map((change) => (
            <tr
              key={`${change.machine} ${change.field}`}
              className={`border-b border-line ${change.problem ? "bg-pick" : ""}`}
            >
              <td className="py-1 pr-3 break-words">{change.machine}</td>
              <td className="py-1 pr-3 text-mute">{change.title}</td>
              <td className="py-1 pr-3 text-mute line-through">{change.before}</td>
              <td className="py-1 pr-3">{change.after}</td>
              <td className="py-1 text-accent">{change.problem}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** Where specs are pasted. */
function SpecText({ text, onText }: { text: string; onText: (text: string) => void }) {
  return (
    <Field
      label="Paste a block from a spreadsheet: machines across or down, or drop a spec file here"
      hint="A spec file is JSON with a name and specs; the text of lscpu -J will do too."
    >
      {(id, described) => (
        <textarea
          id={id}
          aria-describedby={described}
          // biome-ignore lint/a11y/noAutofocus: the form was asked for
          autoFocus
          className="figure textarea h-32 w-full bg-page text-13"
          placeholder={EXAMPLE}
          value={text}
          onChange={(event) => onText(event.target.value)}
        />
      )}
    </Field>
  )
}

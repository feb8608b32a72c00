import { type FormEvent, useRef, useState } from "react"
import { useAddTimelineFile } from "../../api/changes"
import { ActButton } from "../../parts/ActButton"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

/** Brings in a timeline's file: the reviewer's own, or as saved on one setup. */
export function AddTimelineFile({
  slug,
  timelineId,
  setups,
}: {
  slug: string
  timelineId: string
  setups: { id: string; label: string }[]
}) {
  const [file, setFile] = useState<File | null>(null)
  const [setupId, setSetupId] = useState("")
  const [rate, setRate] = useState("")
  const chooser = useRef<HTMLInputElement>(null)
  const add = useAddTimelineFile(slug, timelineId)
  const isEdl = file?.name.toLowerCase().endsWith(".edl") ?? false
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!file) return
    add.mutate(
      { file, setupId, rate: isEdl ? rate : "" },
      {
        onSuccess: () => {
          setFile(null)
          if (chooser.current) chooser.current.value = ""
        },
      },
    )
  }
  return (
    <form onSubmit={submit} className="mt-4 flex flex-wrap items-end gap-3">
      <Field label="Timeline file (.otio, .otioz, .edl)">
        {(id) => (
          <input
            id={id}
            ref={chooser}
            type="file"
            accept=".otio,.otioz,.edl"
            className="file-input file-input-sm w-64 bg-page"
            onChange={(event) => {
              add.reset()
              setFile(event.target.files?.[0] ?? null)
            }}
          />
        )}
      </Field>
      <div className="w-44">
        <Field label="Saved from">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-full bg-page"
              value={setupId}
              onChange={(event) => setSetupId(event.target.value)}
            >
              <option value="">the original</option>
              {setups.map((setup) => (
                <option key={setup.id} value={setup.id}>
                  {setup.label}
                </option>
              ))}
            </select>
          )}
        </Field>
      </div>
      {isEdl && (
        <div className="w-28">
          <TextField label="Frames/s" value={rate} onText={setRate} placeholder="25" />
        </div>
      )}
      <ActButton
        type="submit"
        className="btn btn-sm"
        busy={add.isPending}
        needs={!file && "Choose a file first."}
      >
        {add.isPending ? "Reading…" : "Import"}
      </ActButton>
      <div className="w-full empty:hidden">
        <ProblemNote error={add.error} />
      </div>
    </form>
  )
}

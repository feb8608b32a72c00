import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { sentQuery, useAddSent, useKit } from "../../../api/sent"
import { ActButton } from "../../../parts/ActButton"
import { PickFile } from "../../../parts/PickFile"
import { ProblemNote } from "../../../parts/ProblemNote"
import { saveFile } from "../../../parts/saveFile"
import { count, day } from "../../../theme/format"
import { SentRow } from "./SentRow"

/** Results of others: the kit that is given out, and what came back. */
export function SentIn({ slug, onClose }: { slug: string; onClose: () => void }) {
  const box = useQuery(sentQuery(slug))
  const kit = useKit(slug)
  const addFile = useAddSent(slug)
  const [wrong, setWrong] = useState<string | null>(null)
  const take = (file: File | undefined) => {
    setWrong(null)
    file
      ?.text()
      .then((text) => addFile.mutate(text))
      .catch(() => setWrong(`${file.name} cannot be read from this disk.`))
  }
  const { data } = box
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the button does the same by key
    <div
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        take(event.dataTransfer.files[0])
      }}
    >
      <p className="max-w-3xl">
        Let viewers run your tasks on their machines: give them the kit, they give you one file
        back. What they send counts in no ranking; what you accept says how much machines of one
        model differ.
      </p>
      <div className="mt-3 flex flex-wrap items-center gap-2">
        <ActButton
          type="button"
          className="btn btn-sm"
          busy={kit.isPending}
          onClick={() =>
            kit.mutate(undefined, { onSuccess: (file) => saveFile(file, `${slug}-kit.zip`) })
          }
        >
          {kit.isPending ? "Packing…" : "Save the kit"}
        </ActButton>
        <PickFile label="Add a result file" accept=".json,application/json" onFile={take} />
        <button type="button" className="btn btn-sm btn-ghost" onClick={onClose}>
          Back to the runs
        </button>
        <span className="text-13 text-mute">
          {data?.made_at ? `First given out on ${day(data.made_at)}.` : "Not given out yet."} Or
          drop the file here.
        </span>
      </div>
      {wrong && (
        <p role="alert" className="mt-2 text-accent">
          {wrong}
        </p>
      )}
      <ProblemNote error={kit.error ?? addFile.error ?? box.error} />
      {data?.says && <p className="mt-3 max-w-3xl">{data.says}</p>}
      {data && data.results.length > 0 && (
        <>
          <h2 className="mt-5 text-16">
            {count(data.results.length, "result")} sent in
            {data.waiting > 0 && <span className="text-accent">, {data.waiting} to decide on</span>}
          </h2>
          <ul className="mt-2 border-t border-line">
            {data.results.map((result) => (
              <SentRow key={result.id} slug={slug} result={result} />
            ))}
          </ul>
        </>
      )}
      {data?.results.length === 0 && <p className="mt-5 text-mute">Nothing was sent in yet.</p>}
    </div>
  )
}

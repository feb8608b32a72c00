import { type FormEvent, useState } from "react"
import { PlaybackQuality } from "../../api/choices"
import { problemOf, type Schemas } from "../../api/client"
import { useNotePlayback } from "../../api/tasks"
import { ActButton } from "../../parts/ActButton"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { readWhole } from "../../theme/format"

/** What was seen of playback, in a few words. */
export function seenWords({ quality, dropped, total }: Schemas["Playback"]): string {
  const held = quality === "none" ? "none held" : `${quality} quality`
  return dropped === null || total === null ? held : `${held}, ${dropped} of ${total} dropped`
}

/** Notes the preview quality that a setup held, and the frames it dropped. */
export function PlaybackNote({
  slug,
  taskId,
  row,
}: {
  slug: string
  taskId: string
  row: Schemas["SetupSameness"]
}) {
  const [quality, setQuality] = useState<(typeof PlaybackQuality)[number]>("full")
  const [dropped, setDropped] = useState("")
  const [total, setTotal] = useState("")
  const note = useNotePlayback(slug, taskId)
  const problem = problemOf(note.error)
  const bad = [dropped, total].some((text) => text.trim() !== "" && readWhole(text) === null)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad) return
    note.mutate({
      setup_id: row.setup_id,
      quality,
      dropped: readWhole(dropped),
      total: readWhole(total),
    })
  }
  return (
    <div className="max-w-xl">
      <p className={row.playback ? "" : "text-mute"}>
        {row.playback ? seenWords(row.playback) : "Nobody looked yet."}
        {row.playback?.note && ` ${row.playback.note}`}
      </p>
      <Writes>
        <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-3">
          <Field label="Best quality held">
            {(id) => (
              <select
                id={id}
                className="select select-sm w-32 bg-page"
                value={quality}
                onChange={(event) =>
                  setQuality(PlaybackQuality.find((each) => each === event.target.value) ?? "full")
                }
              >
                {PlaybackQuality.map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </select>
            )}
          </Field>
          <div className="w-32">
            <TextField
              label="Dropped frames"
              value={dropped}
              onText={setDropped}
              inputMode="numeric"
              error={bad ? "Whole numbers." : problem?.field === "dropped" ? problem.detail : null}
            />
          </div>
          <div className="w-32">
            <TextField label="of how many" value={total} onText={setTotal} inputMode="numeric" />
          </div>
          <ActButton
            type="submit"
            className="btn btn-sm"
            busy={note.isPending}
            needs={bad && "Needs whole numbers of frames, or none."}
          >
            Note it
          </ActButton>
          {problem && problem.field !== "dropped" && <ProblemNote error={note.error} />}
        </form>
      </Writes>
    </div>
  )
}

import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useRef, useState } from "react"
import { problemOf, type Schemas } from "../../api/client"
import { runsQuery } from "../../api/queries"
import { useAddOutput, useNoteLook } from "../../api/tasks"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { Field } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading, Writes } from "../../parts/Reading"
import { day, runValue } from "../../theme/format"

type Row = Schemas["SetupSameness"]
const LOOKS = [
  ["plays", "plays to the end"],
  ["in_sync", "sound in sync"],
  ["colour_right", "colour right"],
] as const

/** What came out on a setup: the probe file held against the task, and what a person saw. */
export function OutputNote({ slug, taskId, row }: { slug: string; taskId: string; row: Row }) {
  return (
    <div className="max-w-xl">
      {row.probe ? (
        <p className="text-13 text-mute">
          {row.probe.name}, {day(row.probe.noted_at.slice(0, 10))}: {row.probe.line}
        </p>
      ) : (
        <p className="text-mute">No probe file yet: what does the media probe say of the export?</p>
      )}
      {row.parts.length > 0 && <Parts parts={row.parts} />}
      <Look slug={slug} taskId={taskId} row={row} />
      <AddProbe slug={slug} taskId={taskId} row={row} />
    </div>
  )
}

function Parts({ parts }: { parts: Schemas["PartFound"][] }) {
  return (
    <table className="mt-1 w-full border-collapse text-13" aria-label="Parts of the output">
      <thead>
        <tr className="border-b border-base-content text-left text-mute">
          <th scope="col" className="py-1 font-normal">
            part
          </th>
          <th scope="col" className="py-1 font-normal">
            wanted
          </th>
          <th scope="col" className="py-1 font-normal">
            came out
          </th>
        </tr>
      </thead>
      <tbody>
        {parts.map(({ part, wanted, found, ok }) => (
          <tr key={part} className={`border-b border-line ${ok ? "" : "bg-pick"}`}>
            <td className="py-1 pr-3">
              {ok ? "=" : "≠"} {part}
            </td>
            <td className="py-1 pr-3">{wanted}</td>
            <td className="py-1">{found}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

const WORDS = [
  ["", "not checked"],
  ["yes", "yes"],
  ["no", "no"],
] as const

function Look({ slug, taskId, row }: { slug: string; taskId: string; row: Row }) {
  const note = useNoteLook(slug, taskId)
  const reading = useReading()
  const set = (field: (typeof LOOKS)[number][0], value: string) =>
    note.mutate({
      setup_id: row.setup_id,
      plays: row.look?.plays ?? null,
      in_sync: row.look?.in_sync ?? null,
      colour_right: row.look?.colour_right ?? null,
      [field]: value === "" ? null : value === "yes",
    })
  return (
    <fieldset className="mt-3 flex flex-wrap gap-x-4 gap-y-1 text-13">
      <legend className="mb-1 text-mute">seen and heard by a person</legend>
      {LOOKS.map(([field, title]) => {
        const seen = row.look?.[field]
        return (
          <label key={field} className="flex items-center gap-1">
            {title}
            <select
              className={`bg-transparent underline ${seen === false ? "text-accent" : ""}`}
              value={seen === null || seen === undefined ? "" : seen ? "yes" : "no"}
              disabled={note.isPending || reading}
              onChange={(event) => set(field, event.target.value)}
            >
              {WORDS.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          </label>
        )
      })}
      <ProblemNote error={note.error} />
    </fieldset>
  )
}

function AddProbe({ slug, taskId, row }: { slug: string; taskId: string; row: Row }) {
  const [file, setFile] = useState<File | null>(null)
  const [runId, setRunId] = useState("")
  const [really, setReally] = useState(false)
  const chooser = useRef<HTMLInputElement>(null)
  const runs = useQuery(runsQuery(slug)).data?.runs.filter(
    ({ run }) => run.task_id === taskId && run.setup_id === row.setup_id,
  )
  const add = useAddOutput(slug, taskId)
  const problem = problemOf(add.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!file) return
    add.mutate(
      { file, setupId: row.setup_id, runId, really },
      {
        onSuccess: () => {
          setFile(null)
          setReally(false)
          if (chooser.current) chooser.current.value = ""
        },
      },
    )
  }
  return (
    <Writes>
      <form onSubmit={submit} className="mt-3 flex flex-wrap items-end gap-3">
        <Field label="Media info of the export (JSON)">
          {(id) => (
            <input
              id={id}
              ref={chooser}
              type="file"
              accept=".json,application/json"
              className="file-input file-input-sm w-60 bg-page"
              onChange={(event) => {
                add.reset()
                setReally(false)
                setFile(event.target.files?.[0] ?? null)
              }}
            />
          )}
        </Field>
        <div className="w-36">
          <ChoiceField
            label="Of which run"
            value={runId}
            options={[
              { value: "", words: "any of them" },
              ...(runs ?? []).map(({ run }) => ({
                value: run.id,
                words: `${runValue(run, "time")} ${run.status}`,
              })),
            ]}
            onValue={setRunId}
          />
        </div>
        {problem?.field === "really" && (
          <label className="flex w-full items-center gap-2 text-13">
            <input
              type="checkbox"
              className="checkbox checkbox-xs"
              checked={really}
              onChange={(event) => setReally(event.target.checked)}
            />
            yes, the machine really produced this
          </label>
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
    </Writes>
  )
}

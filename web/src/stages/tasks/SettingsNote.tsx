import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { taskWordsQuery, useNoteSettings } from "../../api/tasks"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { useSentText } from "../../parts/useSentText"
import type { Sheet } from "./job"

/** The settings that were really used on a setup: as the task has them, or what was different. */
export function SettingsNote({
  slug,
  sheet,
  row,
}: {
  slug: string
  sheet: Sheet
  row: Schemas["SetupSameness"]
}) {
  const words = useQuery(taskWordsQuery).data
  const note = useNoteSettings(slug, sheet.task.id)
  const [field, setField] = useState("bit_rate")
  const { text, setText, sent } = useSentText()
  const apart = Object.fromEntries(
    row.settings_apart.flatMap(({ title, used }) => {
      const known = words?.settings.find((each) => each.title === title)
      return known ? [[known.field, used || null]] : []
    }),
  )
  const send = (settings: Record<string, string | null>) =>
    note.mutate({ setup_id: row.setup_id, settings }, sent())
  const submit = (event: FormEvent) => {
    event.preventDefault()
    send({ ...apart, [field]: text.trim() || null })
  }
  return (
    <div className="max-w-xl">
      {row.settings === "same" && <p>Exported as the task has it: {sheet.settings_line}.</p>}
      {row.settings === "unknown" && (
        <p className="text-mute">
          Nobody noted what was set here. The task has: {sheet.settings_line}.
        </p>
      )}
      {row.settings_apart.length > 0 && <Apart row={row} />}
      <Writes>
        <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-2">
          <button type="button" className="btn btn-sm" onClick={() => send({})}>
            As the task has it
          </button>
          <ChoiceField
            label="or different in"
            value={field}
            options={(words?.settings ?? []).map((each) => ({
              value: each.field,
              words: each.title,
            }))}
            onValue={setField}
          />
          <div className="w-32">
            <TextField label="it was" value={text} onText={setText} maxLength={120} />
          </div>
          <ActButton type="submit" className="btn btn-sm" busy={note.isPending}>
            Note it
          </ActButton>
          <div className="w-full empty:hidden">
            <ProblemNote error={note.error} />
          </div>
        </form>
      </Writes>
    </div>
  )
}

/** What was set otherwise than the task has it. */
function Apart({ row }: { row: Schemas["SetupSameness"] }) {
  return (
    <table className="w-full border-collapse text-13">
      <thead>
        <tr className="border-b border-base-content text-left text-mute">
          <th scope="col" className="py-1 font-normal">
            setting
          </th>
          <th scope="col" className="py-1 font-normal">
            the task
          </th>
          <th scope="col" className="py-1 font-normal">
            {row.label}
          </th>
        </tr>
      </thead>
      <tbody>
        {row.settings_apart.map(({ title, wanted, used }) => (
          <tr key={title} className="border-b border-line">
            <td className="py-1">{title}</td>
            <td className="py-1">{wanted || "–"}</td>
            <td className="py-1">{used || "–"}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

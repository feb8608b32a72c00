import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { taskWordsQuery, useKeepPreset } from "../../api/tasks"
import { ActButton } from "../../parts/ActButton"
import { EditCell } from "../../parts/EditCell"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { useSentText } from "../../parts/useSentText"
import { SPOKEN } from "../../reach/spoken"
import { presetOver, type Sheet } from "./job"

type Settings = Record<string, string | null>
type Outcome = { saved: true } | { saved: false; reason: string }

/** Export settings as one readable line; opened, field by field, with presets to start from. */
export function ExportSettings({
  sheet,
  onSave,
}: {
  sheet: Sheet
  onSave: (settings: Settings) => Promise<Outcome>
}) {
  const { data } = useQuery(taskWordsQuery)
  const { typed } = sheet
  // It stays as the person left it when the first setting turns up.
  const [open, setOpen] = useState(!sheet.settings_line)
  return (
    <details
      className="px-1 py-1"
      open={open}
      onToggle={(event) => setOpen(event.currentTarget.open)}
    >
      <summary className="cursor-pointer">
        {sheet.settings_line || <span className="text-mute">none yet</span>}
      </summary>
      <Writes>
        <label className="mt-2 flex flex-wrap items-center gap-2 text-13 text-mute">
          start from
          <select
            className="select select-xs w-56 bg-page"
            value=""
            onChange={(event) => {
              const preset = data?.presets.find((each) => each.name === event.target.value)
              if (preset) void onSave(presetOver(typed, preset.settings))
            }}
          >
            <option value="">a preset …</option>
            {data?.presets.map((preset) => (
              <option key={preset.name} value={preset.name}>
                {preset.name}
                {preset.own ? " (yours)" : ""}
              </option>
            ))}
          </select>
        </label>
      </Writes>
      <dl className="mt-1 grid grid-cols-[6.875rem_minmax(0,1fr)] items-center text-13 sm:grid-cols-[6.875rem_minmax(0,1fr)_6.875rem_minmax(0,1fr)]">
        {data?.settings.map(({ field, title, unit, choices }) => (
          <div key={field} className="contents">
            <dt className="text-mute">{title}</dt>
            <dd className="min-w-0">
              <EditCell
                label={`${title} of the export`}
                shown={typed[field] ?? ""}
                text={typed[field] ?? ""}
                unit={unit}
                choices={choices}
                onSave={(text) => onSave({ [field]: text.trim() || null })}
                theirs={() => typed[field] ?? ""}
              />
            </dd>
          </div>
        ))}
      </dl>
      {Object.keys(typed).length > 0 && (
        <Writes>
          <KeepPreset settings={typed} />
        </Writes>
      )}
    </details>
  )
}

function KeepPreset({ settings }: { settings: Record<string, string> }) {
  const { text: name, setText: setName, sent } = useSentText()
  const keep = useKeepPreset()
  const submit = (event: FormEvent) => {
    event.preventDefault()
    keep.mutate({ name, settings }, sent())
  }
  return (
    <form onSubmit={submit} className="mt-1 flex items-end gap-2">
      <div className="w-56">
        <TextField
          label="Save as a preset of yours"
          value={name}
          onText={setName}
          maxLength={80}
          placeholder="Stage left, 50 frames"
        />
      </div>
      <ActButton type="submit" className="btn btn-sm" needs={!name.trim() && "Needs a name."}>
        Keep
      </ActButton>
      <span {...SPOKEN} className="pb-1 text-13 text-mute">
        {keep.isSuccess && !name && "Kept."}
      </span>
      <ProblemNote error={keep.error} />
    </form>
  )
}

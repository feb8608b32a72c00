import { TextField } from "../../parts/Field"

/** What an entry of the log was seen under. */
export type SeenUnder = {
  version: string
  conditions: string
  timecode: string
  measured: string
}
export const NOTHING_SAID: SeenUnder = { version: "", conditions: "", timecode: "", measured: "" }

/** As it is sent: what is empty is not said. */
export function said(under: SeenUnder) {
  return {
    app_version: under.version.trim() || null,
    seen_under: under.conditions.trim() || null,
    timecode: under.timecode.trim() || null,
    measured: under.measured.trim() || null,
  }
}

/** Version, conditions and where in a clip: folded, since most entries need none of them. */
export function LoggedFields({
  under,
  onChange,
}: {
  under: SeenUnder
  onChange: (under: SeenUnder) => void
}) {
  const fields = [
    ["conditions", "Under which conditions", "UHD, half quality, 3 effects", "w-60", 200],
    ["version", "App version", "as the round’s", "w-32", 60],
    ["measured", "A number with its unit", "24 frames/s", "w-36", 60],
    ["timecode", "Where in a clip", "00:01:02:10", "w-32", 20],
  ] as const
  return (
    <details className="w-full text-13" open={Object.values(under).some(Boolean)}>
      <summary className="text-mute">Conditions, version, a number, timecode</summary>
      <div className="mt-1 flex flex-wrap gap-2">
        {fields.map(([field, label, example, width, most]) => (
          <div key={field} className={width}>
            <TextField
              label={label}
              placeholder={example}
              value={under[field]}
              maxLength={most}
              onText={(text) => onChange({ ...under, [field]: text })}
            />
          </div>
        ))}
      </div>
    </details>
  )
}

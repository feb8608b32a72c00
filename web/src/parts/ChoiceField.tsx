import { Field } from "./Field"

/** One of the things that can be chosen: what is stored, and how it is called. */
export type Option = { value: string; words: string }

/** A labelled choice out of a list. */
export function ChoiceField({
  label,
  value,
  options,
  onValue,
  hint = null,
  disabled = false,
}: {
  label: string
  value: string
  options: readonly Option[]
  onValue: (value: string) => void
  hint?: string | null
  disabled?: boolean
}) {
  return (
    <Field label={label} hint={hint}>
      {(id, described) => (
        <select
          id={id}
          aria-describedby={described}
          disabled={disabled}
          className="select select-sm w-full bg-page"
          value={value}
          onChange={(event) => onValue(event.target.value)}
        >
          {options.map((option) => (
            <option key={option.value} value={option.value}>
              {option.words}
            </option>
          ))}
        </select>
      )}
    </Field>
  )
}

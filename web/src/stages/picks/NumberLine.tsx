import { useEffect, useId, useState } from "react"
import { localised, plain, plainNumber, readNumber } from "../../theme/format"

/**
 * A number with its unit and a slider under it; both say the same. What is typed counts at once
 * where it is a number; that it is none is said once the field is left.
 */
export function NumberLine({
  label,
  value,
  unit,
  max,
  step = 1,
  error,
  hint,
  empty = false,
  onChange,
  children,
}: {
  label: string
  /** As text, so that no digit is lost; null where nothing is asked for. */
  value: string | null
  unit: string
  /** End of the slider. */
  max: number
  step?: number
  error?: string | null
  /** What a value means, below the label. */
  hint?: string
  /** Whether the field may be emptied. */
  empty?: boolean
  onChange: (value: string | null) => void
  /** What stands in place of the unit, such as a choice of units. */
  children?: React.ReactNode
}) {
  const id = useId()
  const { text, type, leave, wrong } = useTyped(value, empty, onChange)
  const said = wrong
    ? `Type a number without a sign between thousands, such as 1200 or ${plain(12.5)}.`
    : error
  const at = Math.min(Math.max(Number(value ?? 0), 0), max)
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="block text-13 leading-4 break-words">
        {label}
        {hint && <span className="block text-12 text-mute">{hint}</span>}
      </label>
      <div className="flex items-center gap-2">
        <input
          type="range"
          aria-label={`${label}, slider`}
          aria-valuetext={value === null ? "none" : `${localised(value)} ${unit}`.trim()}
          className="picks-slider min-w-0 flex-1"
          min={0}
          max={max}
          step={step}
          value={at}
          onChange={(event) => onChange(event.target.value)}
        />
        <input
          id={id}
          inputMode="decimal"
          aria-invalid={said ? true : undefined}
          aria-describedby={said ? `${id}-note` : undefined}
          className="figure h-7 w-14 border-b border-line bg-transparent text-right text-13"
          value={text}
          placeholder={empty ? "none" : undefined}
          onChange={(event) => type(event.target.value)}
          onBlur={leave}
          onKeyDown={(event) => event.key === "Enter" && leave()}
        />
        {children ?? <span className="w-9 text-12 text-mute">{unit}</span>}
      </div>
      {said && (
        <p id={`${id}-note`} role="alert" className="text-13 text-accent">
          {said}
        </p>
      )}
    </div>
  )
}

/** The text of a number while it is typed, and whether it is none. */
function useTyped(value: string | null, empty: boolean, onChange: (value: string | null) => void) {
  const [text, setText] = useState(localised(value ?? ""))
  const [wrong, setWrong] = useState(false)
  // What is changed elsewhere is shown; what is being typed is left alone while it means the same.
  useEffect(() => {
    setText((now) =>
      value !== null && readNumber(now) === Number(value) ? now : localised(value ?? ""),
    )
    setWrong(false)
  }, [value])
  const type = (typed: string) => {
    setText(typed)
    if (typed.trim() === "" && empty) {
      setWrong(false)
      onChange(null)
      return
    }
    const read = plainNumber(typed)
    if (read !== null) {
      setWrong(false)
      onChange(read)
    }
  }
  /** Half of a number is no mistake; what is left standing is. */
  const leave = () => setWrong(!(text.trim() === "" && empty) && plainNumber(text) === null)
  return { text, type, leave, wrong }
}

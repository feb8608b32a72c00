import { type InputHTMLAttributes, type ReactNode, useEffect, useId, useRef, useState } from "react"

/** A labelled field; the label stands above, help or an error below. */
export function Field({
  label,
  hint,
  error,
  children,
}: {
  label: string
  hint?: ReactNode
  error?: string | null
  /** Draws the control with the given id. */
  children: (id: string, described: string | undefined) => ReactNode
}) {
  const id = useId()
  const note = `${id}-note`
  return (
    <div className="min-w-0">
      <label htmlFor={id} className="mb-0.5 block text-13 text-mute">
        {label}
      </label>
      {children(id, error || hint ? note : undefined)}
      {error ? (
        <p id={note} role="alert" className="mt-0.5 text-13 text-accent">
          {error}
        </p>
      ) : hint ? (
        <p id={note} className="mt-0.5 text-12 text-mute">
          {hint}
        </p>
      ) : null}
    </div>
  )
}

/** What is told of a field that was left may move what is just being pressed: it waits for that. */
const TOLD_AFTER_MS = 250

/**
 * A labelled line of text. What is wrong with it is told once it is left or sent: half of a value
 * is no mistake.
 */
export function TextField({
  label,
  hint,
  error,
  value,
  onText,
  onBlur,
  onKeyDown,
  ...input
}: {
  label: string
  hint?: ReactNode
  error?: string | null
  value: string
  onText: (text: string) => void
} & Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange">) {
  const [typing, setTyping] = useState(false)
  const leaving = useRef<ReturnType<typeof setTimeout>>(undefined)
  useEffect(() => () => clearTimeout(leaving.current), [])
  const told = typing ? null : error
  return (
    <Field label={label} hint={hint} error={told ?? null}>
      {(id, described) => (
        <input
          id={id}
          aria-describedby={described}
          aria-invalid={told ? true : undefined}
          className={`input input-sm w-full bg-page ${told ? "input-error" : ""}`}
          value={value}
          onChange={(event) => {
            clearTimeout(leaving.current)
            setTyping(true)
            onText(event.target.value)
          }}
          onBlur={(event) => {
            leaving.current = setTimeout(() => setTyping(false), TOLD_AFTER_MS)
            onBlur?.(event)
          }}
          onKeyDown={(event) => {
            if (event.key === "Enter") setTyping(false)
            onKeyDown?.(event)
          }}
          {...input}
        />
      )}
    </Field>
  )
}

import { type InputHTMLAttributes, type ReactNode, useId } from "react"

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

/** A labelled line of text. */
export function TextField({
  label,
  hint,
  error,
  value,
  onText,
  ...input
}: {
  label: string
  hint?: ReactNode
  error?: string | null
  value: string
  onText: (text: string) => void
} & Omit<InputHTMLAttributes<HTMLInputElement>, "value" | "onChange">) {
  return (
    <Field label={label} hint={hint} error={error ?? null}>
      {(id, described) => (
        <input
          id={id}
          aria-describedby={described}
          aria-invalid={error ? true : undefined}
          className={`input input-sm w-full bg-page ${error ? "input-error" : ""}`}
          value={value}
          onChange={(event) => onText(event.target.value)}
          {...input}
        />
      )}
    </Field>
  )
}

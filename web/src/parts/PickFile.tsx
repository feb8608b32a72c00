import { useRef } from "react"

/** A button that asks for a file; the same file may be chosen again. */
export function PickFile({
  label,
  accept,
  onFile,
  quiet = false,
}: {
  label: string
  accept: string
  onFile: (file: File) => void
  /** A word among others instead of a button. */
  quiet?: boolean
}) {
  const field = useRef<HTMLInputElement>(null)
  return (
    <>
      <button
        type="button"
        className={quiet ? "ml-2 text-mute underline" : "btn btn-sm"}
        onClick={() => field.current?.click()}
      >
        {label}
      </button>
      <input
        ref={field}
        type="file"
        accept={accept}
        aria-label={label}
        className="hidden"
        onChange={(event) => {
          const file = event.target.files?.[0]
          if (file) onFile(file)
          event.target.value = ""
        }}
      />
    </>
  )
}

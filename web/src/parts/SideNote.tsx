import type { ReactNode } from "react"
import { useEffect } from "react"

/** The note at the right of a stage: details of the selected thing. Esc closes it. */
export function SideNote({
  title,
  onClose,
  children,
}: {
  title: string
  onClose: () => void
  children: ReactNode
}) {
  useEffect(() => {
    const close = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented) onClose()
    }
    window.addEventListener("keydown", close)
    return () => window.removeEventListener("keydown", close)
  }, [onClose])
  return (
    <aside
      aria-label={title}
      className="fixed inset-x-0 top-12 bottom-0 z-30 overflow-y-auto border-line bg-page p-4 md:static md:z-auto md:w-80 md:shrink-0 md:border-l"
    >
      <div className="mb-2 flex items-start justify-between gap-2">
        <p className="min-w-0 text-[13px] break-words text-mute">{title}</p>
        <button
          type="button"
          onClick={onClose}
          className="shrink-0 text-[13px] text-mute underline"
        >
          Close
        </button>
      </div>
      {children}
    </aside>
  )
}

/** A part of a side note under its own small heading. */
export function NotePart({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h3 className="mb-1 text-[14px]">{title}</h3>
      {children}
    </section>
  )
}

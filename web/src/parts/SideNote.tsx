import { type ReactNode, useEffect, useLayoutEffect, useRef } from "react"
import { goTo, type Place, placeBefore, placeOf } from "../reach/focus"
import { useInertBehind } from "../reach/useInertBehind"

/**
 * The note at the right of a stage: details of the selected thing. It takes the focus to its
 * heading, and gives it back to what opened it on Close and Esc.
 */
export function SideNote({
  title,
  name,
  about,
  onClose,
  children,
}: {
  title: string
  /** Of the thing, where the title does not hold it. */
  name?: string | undefined
  /** Id of what it tells of; another one is another note. */
  about: string
  onClose: () => void
  children: ReactNode
}) {
  const note = useRef<HTMLElement>(null)
  const head = useRef<HTMLHeadingElement>(null)
  useInertBehind(note)
  useEffect(() => {
    const close = (event: KeyboardEvent) => {
      if (event.key === "Escape" && !event.defaultPrevented) onClose()
    }
    window.addEventListener("keydown", close)
    return () => window.removeEventListener("keydown", close)
  }, [onClose])
  const opener = useRef<Place | null>(null)
  // biome-ignore lint/correctness/useExhaustiveDependencies: another thing is another opening
  useEffect(() => {
    const now = document.activeElement
    if (now instanceof HTMLElement && inside(note.current, now)) {
      // A field of it was asked for, and has the focus already.
      opener.current ??= placeBefore()
      return
    }
    if (now instanceof HTMLElement && now !== document.body) opener.current = placeOf(now)
    head.current?.focus()
  }, [about])
  useLayoutEffect(() => {
    const own = note.current
    return () => {
      const now = document.activeElement
      // Where the focus has gone elsewhere by then, it is wanted there.
      if (now !== null && now !== document.body && !inside(own, now)) return
      requestAnimationFrame(() => {
        if (opener.current && !own?.isConnected) goTo(opener.current)
      })
    }
  }, [])
  return (
    <aside
      ref={note}
      aria-label={title}
      className="side-note border-line bg-page p-4 md:static md:z-auto md:w-80 md:shrink-0 md:border-l"
    >
      <div className="mb-2 flex items-start justify-between gap-2">
        <h2
          ref={head}
          tabIndex={-1}
          className="min-w-0 font-sans text-13 font-normal tracking-normal break-words text-mute"
        >
          {title}
          {name && <span className="sr-only">: {name}</span>}
        </h2>
        <button
          type="button"
          onClick={onClose}
          className="min-h-6 shrink-0 text-13 text-mute underline"
        >
          Close
        </button>
      </div>
      {children}
    </aside>
  )
}

const inside = (note: HTMLElement | null, element: Element): boolean =>
  note?.contains(element) === true

/** A part of a side note under its own small heading. */
export function NotePart({ title, children }: { title: string; children: ReactNode }) {
  return (
    <section className="mt-5">
      <h3 className="mb-1 text-14">{title}</h3>
      {children}
    </section>
  )
}

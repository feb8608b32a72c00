import type { Schemas } from "../../api/client"
import { day } from "../../theme/format"

/** What still says what the last edition said, and is outside of the next one. */
export function Echoes({ lines }: { lines: string[] }) {
  return (
    <section aria-label="Still as it was" className="mt-3 border-l-4 border-accent pl-3 text-13">
      <h3 className="text-13">Still says what was</h3>
      <ul>
        {lines.map((line) => (
          <li key={line} className="py-0.5">
            {line}
          </li>
        ))}
      </ul>
    </section>
  )
}

/** Editions that were published, newest first. */
export function Editions({ editions }: { editions: Schemas["Edition"][] }) {
  if (editions.length === 0) return null
  return (
    <section aria-label="Editions" className="mt-6">
      <h2 className="text-14">Published</h2>
      <ol className="text-13">
        {editions.map((edition) => (
          <li key={edition.id} className="border-t border-line py-1.5">
            <strong>Edition {edition.number}</strong>{" "}
            <span className="text-mute">
              {day(edition.created_at)}, {edition.who}
            </span>
            {edition.note && <span className="block">{edition.note}</span>}
            {edition.changes.map((line) => (
              <span key={line} className="block text-mute">
                {line}
              </span>
            ))}
          </li>
        ))}
      </ol>
    </section>
  )
}

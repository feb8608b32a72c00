import { useSyncExternalStore } from "react"
import { hearSaid, readSaid } from "./announce"

/** The one place that speaks up: politely, and only of what matters. */
export function Announcer() {
  const said = useSyncExternalStore(hearSaid, readSaid)
  return (
    <div
      className="sr-only"
      role="status"
      aria-label="Announcements"
      aria-live="polite"
      aria-relevant="additions"
      aria-atomic="false"
    >
      {said.map((each) => (
        <p key={each.key}>{each.text}</p>
      ))}
    </div>
  )
}

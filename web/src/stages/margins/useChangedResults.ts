import { useEffect, useRef } from "react"
import type { Schemas } from "../../api/client"
import { labelOf, RESULT } from "../../api/labels"
import { announce } from "../../reach/announce"
import { count } from "../../theme/format"

/**
 * Says how many results of a ranking came out otherwise while it was looked at; few by name, and
 * all as a number where they are compared with another setup.
 */
export function useChangedResults(view: Schemas["LadderView"] | undefined): void {
  const before = useRef(view)
  useEffect(() => {
    const known = before.current
    before.current = view
    if (!known || !view || known.key !== view.key) return
    const changed = changedResults(known, view)
    if (known.baseline !== view.baseline) {
      announce(`${count(changed.length, "result")} changed.`)
    } else if (changed.length > 0) {
      announce(`${count(changed.length, "result")} changed: ${changed.slice(0, MOST).join("; ")}.`)
    }
  }, [view])
}

const MOST = 3

/** What came out otherwise than before, as "Halyard S: clear". */
export function changedResults(
  before: Schemas["LadderView"],
  now: Schemas["LadderView"],
): string[] {
  return now.rows
    .filter((row) => {
      const known = before.rows.find((each) => each.setup_id === row.setup_id)
      return known !== undefined && known.call !== row.call && row.call !== "baseline"
    })
    .map((row) => `${row.label}: ${labelOf(RESULT, row.call)}`)
}

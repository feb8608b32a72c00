import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { taskWordsQuery } from "../../api/tasks"
import { useKept } from "../../parts/useKept"
import { readLength } from "../../theme/readLength"

export type Operation = NonNullable<Schemas["NewTask"]["operation"]>

const EMPTY = {
  name: "",
  app: "",
  timeline: "",
  length: "",
  measure: "time" as "time" | "amount",
  unit: "",
  operation: "export" as Operation,
  preset: "",
}

/** A task as it is being typed, and what is sent of it. */
export function useTaskDraft(slug: string) {
  const [draft, keep, drop] = useKept(`new task of ${slug}`, EMPTY)
  const words = useQuery(taskWordsQuery).data
  const typed = draft.length.trim()
  const seconds = typed === "" ? null : readLength(draft.length)
  const bodyOf = (length: number | null): Schemas["NewTask"] => {
    const { name, app, operation, measure, timeline, unit, preset } = draft
    const watched = operation === "playback"
    const settings = words?.presets.find((each) => each.name === preset)?.settings
    const timed = !watched && measure === "time" && length !== null
    return {
      name,
      app,
      operation,
      measure: watched ? "observation" : measure,
      ...(settings ? { settings } : {}),
      ...(timeline.trim() ? { timeline } : {}),
      ...(timeline.trim() && length !== null ? { timeline_length_s: length } : {}),
      ...(timed ? { work: length, unit: "s" } : {}),
      ...(measure === "amount" && unit.trim() ? { unit } : {}),
    }
  }
  return {
    draft,
    set: (changes: Partial<typeof EMPTY>) => keep((before) => ({ ...before, ...changes })),
    /** Forgets what was typed: it is stored, or not wanted. */
    drop,
    words,
    /** The length in seconds; null where none is typed or none can be read. */
    seconds,
    /** Whether a length is typed that cannot be read. */
    bad: typed !== "" && seconds === null,
    bodyOf,
  }
}

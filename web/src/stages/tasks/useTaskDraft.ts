import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { taskWordsQuery } from "../../api/tasks"
import { readLength } from "./readLength"

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
export function useTaskDraft() {
  const [draft, setDraft] = useState(EMPTY)
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
    set: (changes: Partial<typeof EMPTY>) => setDraft((before) => ({ ...before, ...changes })),
    words,
    /** The length in seconds; null where none is typed or none can be read. */
    seconds,
    /** Whether a length is typed that cannot be read. */
    bad: typed !== "" && seconds === null,
    bodyOf,
  }
}

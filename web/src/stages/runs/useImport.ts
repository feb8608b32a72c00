import { useState } from "react"
import { useCommitImport, usePreviewImport } from "../../api/changes"
import type { Schemas } from "../../api/client"

/** The fields that a column can be understood as. */
export const FIELDS = ["setup", "task", "round", "order", "value", "reading", "status", "note"]
/** Of a wide table: the header names the setup, or the task, of the values below. */
export const WIDE = ["a setup's value", "a task's value"]

/** A table on its way into the book: shown, answered, and only then stored. */
export function useImport(slug: string) {
  const preview = usePreviewImport(slug)
  const commit = useCommitImport(slug)
  const [request, setRequest] = useState<Schemas["TableText"] | null>(null)

  const show = (next: Schemas["TableText"]) => {
    setRequest(next)
    commit.reset()
    preview.mutate(next)
  }
  return {
    preview: preview.data,
    error: commit.error ?? preview.error,
    busy: preview.isPending || commit.isPending,
    result: commit.data,
    addMissing: request?.add_missing ?? false,
    start: (text: string) => show({ text }),
    setColumn: (place: number, field: string) => {
      if (!request || !preview.data) return
      const columns = preview.data.columns.map((column, i) =>
        i === place
          ? field || null
          : column.field === field && !WIDE.includes(field)
            ? null
            : column.field,
      )
      show({ ...request, columns })
    },
    answer: (line: number, meaning: "clock" | "decimal") => {
      if (request) show({ ...request, answers: { ...request.answers, [line]: meaning } })
    },
    answerAll: (lines: number[], meaning: "clock" | "decimal") => {
      if (!request) return
      const alike = Object.fromEntries(lines.map((line) => [line, meaning]))
      show({ ...request, answers: { ...request.answers, ...alike } })
    },
    setAddMissing: (on: boolean) => {
      if (request) show({ ...request, add_missing: on })
    },
    store: (leaveOutBad: boolean) => {
      if (request) commit.mutate({ ...request, leave_out_bad: leaveOutBad })
    },
    again: () => {
      setRequest(null)
      preview.reset()
      commit.reset()
    },
  }
}

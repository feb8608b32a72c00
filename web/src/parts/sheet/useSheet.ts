import { useState } from "react"
import { usePreviewImport, usePreviewNotes } from "../../api/changes"
import type { Schemas } from "../../api/client"

export type Column = Schemas["SheetColumn"]
type Given = Schemas["SheetText"]
export type Sheet = ReturnType<typeof useSheet>

/** A column that is read so; what is left empty is found out. */
export function readAs(
  means: Column["means"],
  more: Partial<Schemas["ColumnReading"]> = {},
): Column {
  const empty = { name: "", spec: null, measure: "", unit: "", currency: "" }
  // The server gives these fields as texts, and takes the few that it gives.
  return { ...empty, decimals: "", task: "", ...more, means } as Column
}

/** A sheet on its way into the book: shown, answered, and only then stored. */
export function useSheet(slug: string | null) {
  const known = usePreviewImport(slug ?? "")
  const notes = usePreviewNotes()
  const preview = slug === null ? notes : known
  const [given, setGiven] = useState<Given | null>(null)
  const show = (next: Given) => {
    setGiven(next)
    preview.mutate(next)
  }
  const change = (part: Partial<Given>) => {
    if (given) show({ ...given, ...part })
  }
  return {
    given,
    preview: given ? preview.data : undefined,
    error: preview.error,
    busy: preview.isPending,
    start: (text: string) =>
      show({ text, turned: null, columns: {}, names: {}, tasks: {}, cells: {} }),
    again: () => {
      setGiven(null)
      preview.reset()
    },
    turn: (turned: boolean) => change({ turned, columns: {}, cells: {} }),
    setColumn: (place: number, column: Column) =>
      change({ columns: { ...given?.columns, [place]: column } }),
    setName: (name: string, setup: string) => change({ names: { ...given?.names, [name]: setup } }),
    setTask: (name: string, fields: Partial<Schemas["SheetTaskFields"]>) =>
      change({ tasks: { ...given?.tasks, [name]: taskWith(given?.tasks?.[name], fields) } }),
    setApp: (names: string[], app: string) =>
      change({
        tasks: {
          ...given?.tasks,
          ...Object.fromEntries(names.map((n) => [n, taskWith(given?.tasks?.[n], { app })])),
        },
      }),
    setCell: (key: string, text: string | null) =>
      change({ cells: { ...given?.cells, [key]: text } }),
  }
}

function taskWith(
  before: Schemas["SheetTaskFields"] | undefined,
  fields: Partial<Schemas["SheetTaskFields"]>,
): Schemas["SheetTaskFields"] {
  return { measure: null, unit: null, app: null, timeline: null, ...before, ...fields }
}

import { useQuery } from "@tanstack/react-query"
import { type RefObject, useEffect, useRef, useState } from "react"
import { flushSync } from "react-dom"
import { clientKey, useAddMachine, useAddRun, useAddTask } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { useNoteRatio } from "../../api/margins"
import { entryQuery, queryClient, readEntry, tasksQuery } from "../../api/queries"

const TYPING_MS = 90

/**
 * The entry line's behaviour: reads while one types, stores on Enter, asks where it must.
 *
 * `field` is where it is typed: what is chosen in it stays chosen when the line is changed.
 */
export function useEntry(slug: string, field?: RefObject<HTMLInputElement | null>) {
  const [line, setLine] = useState("")
  const [settled, setSettled] = useSettled(line)
  const [asked, setAsked] = useState<"meaning" | "unknown" | null>(null)
  const [noted, setNoted] = useState("")
  const [stored, setStored] = useState<Schemas["StoredRun"] | null>(null)
  const keyed = useLineKeys()
  const add = useAddRun(slug)
  const note = useNoteRatio(slug)
  const unknown = useAddUnknown(slug)
  const { data: reading } = useQuery({ ...entryQuery(slug, settled), enabled: settled !== "" })

  const type = (text: string) => {
    setLine(text)
    setAsked(null)
    setStored(null)
    setNoted("")
    add.reset()
    note.reset()
  }
  const goOn = (sent: string, stem: string) =>
    keepChosen(field?.current, () =>
      setLine((now) => (now.startsWith(sent) ? stem + now.slice(sent.length) : now)),
    )
  const store = async (entry: Schemas["EntryReading"], meaning?: "clock" | "decimal") => {
    if (entry.setup_id === null || entry.task_id === null) return
    const sent = line
    const { key, done } = keyed(sent)
    const ratio = ratioOf(entry, key)
    if (ratio !== null) {
      setNoted((await note.mutateAsync(ratio)).says)
      done()
      goOn(sent, entry.stem)
      return
    }
    const run = await add.mutateAsync({
      setup_id: entry.setup_id,
      task_id: entry.task_id,
      round_id: entry.round_id,
      typed: entry.typed || null,
      method: entry.method as Schemas["NewRun"]["method"] & string,
      status: entry.status as Schemas["NewRun"]["status"] & string,
      reason: entry.reason || null,
      ...(entry.note ? { note: entry.note } : {}),
      client_key: key,
      ...(meaning ? { meaning } : {}),
    })
    done()
    setStored(run)
    setAsked(null)
    goOn(sent, entry.stem)
  }
  /** Stores the line if it can be; else takes up the offer at this place, or asks. */
  const enter = async (offer: number) => {
    if (add.isPending) return
    const now = await readEntry(slug, line)
    // What is asked about it stands beside the field at once.
    queryClient.setQueryData(entryQuery(slug, line).queryKey, now)
    setSettled(line)
    if ((now.meanings.length > 0 || now.ways.length > 0) && !now.problem) setAsked("meaning")
    else if (now.unknown_setup || now.unknown_task) setAsked("unknown")
    else if (now.ready) await store(now).catch(() => undefined)
    else {
      // What was offered may be older than what is typed: the list is taken from the answer.
      const taken = now.completions[offer] ?? now.completions[0]
      if (taken) setLine(taken.line)
    }
  }
  return {
    slug,
    line,
    type,
    reading: line === "" ? undefined : reading,
    asked,
    stored,
    noted,
    /** What was stored was taken back, and is not said any more. */
    forget: () => {
      setStored(null)
      setNoted("")
    },
    enter,
    choose: (meaning: "clock" | "decimal") => {
      if (reading) void store(reading, meaning).catch(() => undefined)
    },
    addUnknown: () => {
      if (reading) unknown.add(reading, () => setAsked(null))
    },
    error: add.error ?? note.error ?? unknown.error,
  }
}

/** The line once nobody has typed for a moment, and what settles it at once. */
function useSettled(line: string) {
  const [settled, setSettled] = useState("")
  useEffect(() => {
    const timer = setTimeout(() => setSettled(line), TYPING_MS)
    return () => clearTimeout(timer)
  }, [line])
  return [settled, setSettled] as const
}

/**
 * Changes a line that was stored into the beginning of the next: mostly of the same setup and
 * task, so that only the time is typed anew, and what was typed of it meanwhile stays. Who has
 * chosen the whole line by then means to write another one over it.
 */
function keepChosen(field: HTMLInputElement | null | undefined, change: () => void): void {
  const written = field === document.activeElement ? field : null
  const whole = written?.selectionStart === 0 && written.selectionEnd === written.value.length
  flushSync(change)
  if (whole) written?.select()
}

/** The ratio that a line notes; null where it is a run. */
function ratioOf(entry: Schemas["EntryReading"], client_key: string) {
  const { setup_id, task_id, against_id, ratio: typed, source } = entry
  if (setup_id === null || task_id === null || against_id === null || typed === null) return null
  return { task: task_id, setup_id, against_id, typed, source, client_key }
}

/** Adds the setup or task that a line names and nobody knows. */
function useAddUnknown(slug: string) {
  const addMachine = useAddMachine(slug)
  const addTask = useAddTask(slug)
  const add = async ({ unknown_setup, unknown_task }: Schemas["EntryReading"]) => {
    if (unknown_setup) await addMachine.mutateAsync({ name: unknown_setup })
    else if (unknown_task) {
      // Of the only app that there is, else of none that is known yet.
      const sheets = await queryClient.ensureQueryData(tasksQuery(slug))
      const apps = new Set(sheets.map(({ task }) => task.app))
      const only = apps.size === 1 ? [...apps][0] : undefined
      await addTask.mutateAsync({ name: unknown_task, app: only ?? "app not named" })
    }
  }
  return {
    add: (reading: Schemas["EntryReading"], added: () => void) =>
      void add(reading).then(added, () => undefined),
    error: addMachine.error ?? addTask.error,
  }
}

/**
 * A line keeps its key until it is stored, so that sending it again stores nothing twice;
 * another line, typed while this one is on its way, has its own.
 */
function useLineKeys() {
  const tried = useRef<{ line: string; key: string } | null>(null)
  return (line: string) => {
    const own = tried.current?.line === line ? tried.current : { line, key: clientKey() }
    tried.current = own
    const done = () => {
      if (tried.current === own) tried.current = null
    }
    return { key: own.key, done }
  }
}

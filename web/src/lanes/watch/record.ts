/** What is kept on this device of an export that is watched here, so that a reload loses nothing. */
import { createStore, del, entries, get, set, type UseStore } from "idb-keyval"
import type { WatchState } from "./rules"

/** An end that was seen; moments in milliseconds since 1970. */
export type Ended = {
  kind: "stopped" | "failed"
  startedMs: number | null
  endedMs: number
  spreadS: number | null
  /** A person's press began it. */
  pressed: boolean
  doubt: string | null
  reason: string | null
  name: string | null
}

export type WatchRecord = {
  /** Lane of the bench. */
  id: string
  slug: string
  /** Run that it is about. */
  key: string
  folder: FileSystemDirectoryHandle
  /** What the name of a finished file ends in; with none any name will do. */
  endings: string[]
  /** Goes on with the next export by itself. */
  again: boolean
  state: WatchState | null
  /** An end that the bench has not taken yet. */
  ended: Ended | null
  /** By how many seconds this device's clock was set meanwhile; 0 for not. */
  clockSetS: number
}

let store: UseStore | null = null
const watches = () => {
  store ??= createStore("tm-watches", "watches")
  return store
}

export const readRecord = (id: string) => get<WatchRecord>(id, watches())
export const keepRecord = (record: WatchRecord) => set(record.id, record, watches())
export const dropRecord = (id: string) => del(id, watches())

/** Everything that is watched on this device for a shootout. */
export async function recordsOf(slug: string): Promise<WatchRecord[]> {
  const kept = await entries<string, WatchRecord>(watches())
  return kept.map(([, record]) => record).filter((record) => record.slug === slug)
}

/** The endings that somebody typed: parted by spaces or commas, with or without a dot. */
export function readEndings(typed: string): string[] {
  return typed
    .toLowerCase()
    .split(/[\s,;]+/)
    .filter((each) => each !== "")
    .map((each) => (each.startsWith(".") ? each : `.${each.replace(/^\*\.?/, "")}`))
    .filter((each) => each !== ".")
}

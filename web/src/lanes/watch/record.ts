/** What is kept on this device of an export that is watched here, so that a reload loses nothing. */
import { createStore, delMany, getMany, keys, set, setMany, type UseStore } from "idb-keyval"
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

/** The folder is kept once and apart: what was seen is kept every second. */
const folderOf = (id: string) => `${id} folder`

export async function readRecord(id: string): Promise<WatchRecord | undefined> {
  const [kept, folder] = await getMany([id, folderOf(id)], watches())
  return kept && folder ? ({ ...kept, folder } as WatchRecord) : undefined
}

/** Keeps everything of a watch that begins. */
export function beginRecord(record: WatchRecord): Promise<void> {
  const { folder, ...rest } = record
  return setMany(
    [
      [record.id, rest],
      [folderOf(record.id), folder],
    ],
    watches(),
  )
}

/** Keeps what was seen since. */
export function keepRecord({ folder: _, ...rest }: WatchRecord): Promise<void> {
  return set(rest.id, rest, watches())
}

export const dropRecord = (id: string) => delMany([id, folderOf(id)], watches())

/** Everything that is watched on this device for a shootout. */
export async function recordsOf(slug: string): Promise<WatchRecord[]> {
  const ids = (await keys<string>(watches())).filter(
    (key) => key !== folderOf(key.split(" ")[0] ?? ""),
  )
  const records = await Promise.all(ids.map(readRecord))
  return records.filter((record) => record !== undefined && record.slug === slug) as WatchRecord[]
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

/** Everything that this page watches: one worker an export, and what each says of it. */

import type { Order, Said, Shown } from "./follow"
import type { ToLooker } from "./looker.worker"
import type { Ended, WatchRecord } from "./record"
import { beginRecord, dropRecord, recordsOf } from "./record"

/** What the screen shows of a watch. */
export type Watch = {
  folder: string
  endings: string[]
  again: boolean
  /** What lies in the folder is known: what comes now is new. */
  armed: boolean
  shown: Shown | null
  trouble: "permission" | "folder" | "room" | null
}

/** A folder that was chosen, and which names a finished file has. */
export type Chosen = { folder: FileSystemDirectoryHandle; endings: string[]; again: boolean }

/** Whoever owns the lanes. */
export type Lanes = {
  started: (id: string, key: string, atMs: number) => void
  grown: (id: string, key: string, atMs: number, bytes: number) => void
  ended: (id: string, key: string, ended: Ended, again: boolean) => void
  changed: () => void
}

type Permitted = FileSystemDirectoryHandle & {
  queryPermission?: (how: { mode: "read" }) => Promise<PermissionState>
  requestPermission?: (how: { mode: "read" }) => Promise<PermissionState>
}

/** Whether this browser can look at a folder that somebody chooses. */
export function canWatch(): boolean {
  return "showDirectoryPicker" in window && "locks" in navigator && "Worker" in window
}

/** Asks for a folder; null where nobody chose one. */
export async function chooseFolder(): Promise<FileSystemDirectoryHandle | null> {
  const { showDirectoryPicker } = window as unknown as {
    showDirectoryPicker: (how: { mode: "read" }) => Promise<FileSystemDirectoryHandle>
  }
  try {
    return await showDirectoryPicker({ mode: "read" })
  } catch (error) {
    if (error instanceof DOMException && error.name === "AbortError") return null
    throw error
  }
}

/** The folder that was dropped; a file is told apart. */
export async function droppedFolder(dropped: DataTransfer): Promise<FileSystemDirectoryHandle> {
  const item = dropped.items[0] as
    | (DataTransferItem & { getAsFileSystemHandle?: () => Promise<FileSystemHandle | null> })
    | undefined
  const handle = await item?.getAsFileSystemHandle?.()
  if (handle?.kind === "directory") return handle as FileSystemDirectoryHandle
  throw new Error("Drop the folder that the export is written into, not a file.")
}

export class Watches {
  private readonly workers = new Map<string, Worker>()
  private readonly orders = new Map<string, Order[]>()
  private readonly records = new Map<string, WatchRecord>()
  private known: ReadonlyMap<string, Watch> = new Map()

  constructor(
    private readonly slug: string,
    private readonly lanes: Lanes,
  ) {}

  /** What is watched on this device, by its lane. */
  read(): ReadonlyMap<string, Watch> {
    return this.known
  }

  has(id: string): boolean {
    return this.known.has(id)
  }

  /** Goes on with what was watched when the page went away. */
  async resume(ids: string[]): Promise<void> {
    if (!("indexedDB" in window)) return
    for (const record of await recordsOf(this.slug).catch(() => [])) {
      if (this.has(record.id)) continue
      // Its lane was taken away, which none is while it runs.
      if (!ids.includes(record.id)) await dropRecord(record.id)
      else await this.take(record)
    }
  }

  async begin(id: string, key: string, chosen: Chosen): Promise<void> {
    const { folder, endings, again } = chosen
    const record: WatchRecord = {
      id,
      slug: this.slug,
      key,
      folder,
      endings,
      again,
      state: null,
      ended: null,
      clockSetS: 0,
    }
    // Shown at once: until its first look, nobody is told that an export may begin.
    this.know(record)
    try {
      await beginRecord(record)
    } catch (error) {
      this.records.delete(id)
      this.forget(id)
      throw error
    }
    await this.take(record)
  }

  /** Asks for leave to look at a folder again, and goes on; a person's press stands behind it. */
  async permit(id: string): Promise<void> {
    const record = this.records.get(id)
    if (!record) return
    const asked = (record.folder as Permitted).requestPermission?.({ mode: "read" })
    if ((await asked) === "denied") return
    this.show(id, { trouble: null })
    this.work(id)
  }

  /** Tells a watch; one that waits for leave to look is told then. */
  order(id: string, order: Order): void {
    const worker = this.workers.get(id)
    if (worker) worker.postMessage(order satisfies ToLooker)
    else this.orders.set(id, [...(this.orders.get(id) ?? []), order])
  }

  /** Another run of the same lane: what is there now was there before. */
  next(id: string, key: string): void {
    const record = this.records.get(id)
    if (!record || record.key === key) return
    record.key = key
    this.show(id, { shown: null })
    this.order(id, { order: "next", key })
  }

  /** Leaves whatever is no lane any more. */
  keepOnly(ids: string[]): void {
    for (const id of this.known.keys()) {
      if (!ids.includes(id)) void this.leave(id)
    }
  }

  private async leave(id: string): Promise<void> {
    this.order(id, { order: "leave" })
    this.workers.get(id)?.terminate()
    this.workers.delete(id)
    this.records.delete(id)
    this.orders.delete(id)
    this.forget(id)
    await dropRecord(id).catch(() => null)
  }

  private forget(id: string): void {
    this.known = new Map([...this.known].filter(([each]) => each !== id))
    this.lanes.changed()
  }

  private know(record: WatchRecord): void {
    const { id, folder, endings, again } = record
    this.records.set(id, record)
    this.known = new Map([
      ...this.known,
      [id, { folder: folder.name, endings, again, armed: false, shown: null, trouble: null }],
    ])
    this.lanes.changed()
  }

  private async take(record: WatchRecord): Promise<void> {
    const { id, folder } = record
    this.know(record)
    const may = await ((folder as Permitted).queryPermission?.({ mode: "read" }) ?? "granted")
    if (may === "granted") this.work(id)
    else this.show(id, { trouble: "permission" })
    this.lanes.changed()
  }

  private work(id: string): void {
    this.workers.get(id)?.terminate()
    const worker = new Worker(new URL("./looker.worker.ts", import.meta.url), { type: "module" })
    worker.onmessage = (event: MessageEvent<Said>) => this.heard(id, event.data)
    worker.postMessage({ id } satisfies ToLooker)
    for (const order of this.orders.get(id) ?? []) worker.postMessage(order satisfies ToLooker)
    this.orders.delete(id)
    this.workers.set(id, worker)
  }

  private heard(id: string, said: Said): void {
    const record = this.records.get(id)
    if (!record) return
    if (said.said === "armed") this.show(id, { armed: true })
    else if (said.said === "shown") this.show(id, { shown: said.shown, trouble: null })
    else if (said.said === "trouble") this.show(id, { trouble: said.trouble })
    else if (said.said === "started") this.lanes.started(id, said.key, said.atMs)
    else if (said.said === "mark") this.lanes.grown(id, said.key, said.atMs, said.bytes)
    else this.lanes.ended(id, said.key, said.ended, record.again)
  }

  private show(id: string, change: Partial<Watch>): void {
    const known = this.known.get(id)
    if (!known) return
    this.known = new Map([...this.known, [id, { ...known, ...change }]])
    this.lanes.changed()
  }
}

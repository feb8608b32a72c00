/** Looks at a folder through the browser: names, sizes, and when each was last written. */
import type { FileSeen } from "./rules"

/** A handle of the File System Access API, with what the library of types does not know yet. */
type Listed = FileSystemDirectoryHandle & { values(): AsyncIterable<FileSystemHandle> }

/** The files of a folder; one that cannot be read just now is as it was. */
export async function lookAt(
  folder: FileSystemDirectoryHandle,
  before: ReadonlyMap<string, FileSeen>,
): Promise<FileSeen[]> {
  const entries: FileSystemFileHandle[] = []
  for await (const entry of (folder as Listed).values()) {
    if (entry.kind === "file") entries.push(entry as FileSystemFileHandle)
  }
  // All at once: one after the other takes three times as long, and a look should be short.
  const seen = await Promise.all(entries.map((entry) => see(entry, before)))
  const found = seen.filter((file) => file !== null)
  return found.sort((one, other) => (one.name < other.name ? -1 : 1))
}

async function see(
  entry: FileSystemFileHandle,
  before: ReadonlyMap<string, FileSeen>,
): Promise<FileSeen | null> {
  try {
    const file = await entry.getFile()
    return {
      name: file.name,
      size: file.size,
      changed_s: file.lastModified / 1000,
      modified_s: file.lastModified / 1000,
      // A browser is not told who holds a file, what it was called, or when it was made.
      open: null,
      born_s: null,
      key: null,
      stamp: [file.lastModified * 1e6, file.lastModified * 1e6],
      names_told: false,
    }
  } catch (error) {
    // It has gone since the folder was listed, or its writer lets nobody near.
    const gone = error instanceof DOMException && error.name === "NotFoundError"
    return gone ? null : (before.get(entry.name) ?? null)
  }
}

/** Whether two looks show the same. */
export function sameLook(one: FileSeen[], other: FileSeen[]): boolean {
  return (
    one.length === other.length &&
    one.every((file, at) => {
      const then = other[at]
      return then?.name === file.name && then.size === file.size && then.stamp[1] === file.stamp[1]
    })
  )
}

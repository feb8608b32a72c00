/** Whether a film was written to its end, by the boxes it is made of; as `watcher/whole.py`. */

const HEAD = 8
const MOST_BOXES = 1000

/** Whether a file is of this kind and misses its index, or ends inside a box. */
export async function isCutOff(file: Blob): Promise<boolean> {
  const kinds = new Set<string>()
  let at = 0
  for (let box = 0; box < MOST_BOXES; box += 1) {
    const head = new DataView(await file.slice(at, at + 2 * HEAD).arrayBuffer())
    if (head.byteLength < HEAD) break
    const kind = String.fromCharCode(...new Uint8Array(head.buffer, 4, 4))
    if (at === 0 && kind !== "ftyp") return false
    kinds.add(kind)
    let length = head.getUint32(0)
    if (length === 1) length = head.byteLength >= 16 ? Number(head.getBigUint64(8)) : 0
    else if (length === 0) length = file.size - at
    if (length < HEAD) return true
    at += length
  }
  return kinds.has("ftyp") && (!kinds.has("moov") || at > file.size)
}

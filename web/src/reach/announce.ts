/** What is said aloud by a screen reader, of what happened and is not where the focus is. */

/** So long a message stays, for a reader that is late. */
const STAYS_MS = 8000
/** Said again within this time, the same is an echo. */
const ECHO_MS = 1000
const MOST = 5

export type Said = { key: number; text: string; at: number }

let said: readonly Said[] = []
let count = 0
const listeners = new Set<() => void>()

function set(next: readonly Said[]): void {
  said = next
  for (const listener of listeners) listener()
}

/** Says something in its turn, without taking the word from anything. */
export function announce(text: string): void {
  const words = text.trim()
  const at = performance.now()
  if (!words || said.some((each) => each.text === words && at - each.at < ECHO_MS)) return
  const key = ++count
  set([...said, { key, text: words, at }].slice(-MOST))
  setTimeout(() => set(said.filter((each) => each.key !== key)), STAYS_MS)
}

export const readSaid = (): readonly Said[] => said

export function hearSaid(listener: () => void): () => void {
  listeners.add(listener)
  return () => listeners.delete(listener)
}

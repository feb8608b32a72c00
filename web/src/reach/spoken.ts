import { announce } from "./announce"

/** So long a text stands still before it is said. */
const STILL_MS = 700
const MOST = 240

/** What is read of an element: its words, without those of its buttons. */
function wordsOf(element: Element): string {
  const copy = element.cloneNode(true) as Element
  for (const each of copy.querySelectorAll("button, a, kbd, input, select, svg")) each.remove()
  return (copy.textContent ?? "").replace(/\s+/g, " ").trim().slice(0, MOST)
}

/** Says the words of an element as it comes, and as they change, through the one announcer. */
function speaks(element: Element | null) {
  if (element === null) return undefined
  let timer: ReturnType<typeof setTimeout>
  const later = () => {
    clearTimeout(timer)
    timer = setTimeout(() => element.isConnected && announce(wordsOf(element)), STILL_MS)
  }
  const changes = new MutationObserver(later)
  changes.observe(element, { childList: true, characterData: true, subtree: true })
  later()
  return () => {
    clearTimeout(timer)
    changes.disconnect()
  }
}

/**
 * For what tells how something went, where it went: a status that is told by the announcer, as
 * what comes with its words in it is often not read by itself.
 */
export const SPOKEN = { role: "status", "aria-live": "off", ref: speaks } as const

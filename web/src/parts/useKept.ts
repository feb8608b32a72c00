import { useState } from "react"

/**
 * A draft that stays when one leaves the page, until it is stored or dropped; of this window.
 *
 * Where the browser keeps nothing, it is a plain state.
 */
export function useKept<Draft>(
  key: string,
  first: Draft,
): [Draft, (next: (before: Draft) => Draft) => void, () => void] {
  const place = `draft: ${key}`
  const [draft, setDraft] = useState<Draft>(() => read(place) ?? first)
  const keep = (next: (before: Draft) => Draft) =>
    setDraft((before) => {
      const kept = next(before)
      write(place, JSON.stringify(kept))
      return kept
    })
  const drop = () => {
    setDraft(first)
    write(place, null)
  }
  return [draft, keep, drop]
}

function read<Draft>(place: string): Draft | null {
  try {
    const kept = sessionStorage.getItem(place)
    return kept === null ? null : (JSON.parse(kept) as Draft)
  } catch {
    return null
  }
}

function write(place: string, text: string | null): void {
  try {
    if (text === null) sessionStorage.removeItem(place)
    else sessionStorage.setItem(place, text)
  } catch {
    // A full or forbidden store: the draft lives as long as the page.
  }
}

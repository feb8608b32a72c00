import { useEffect, useRef } from "react"

const SWITCH = "tm-single-keys"

/** Whether single-letter keys are on; on by default, remembered on this device. */
export function singleKeysOn(): boolean {
  return localStorage.getItem(SWITCH) !== "off"
}

export function setSingleKeys(on: boolean): void {
  localStorage.setItem(SWITCH, on ? "on" : "off")
}

const PREFIX_MS = 1500
let prefixAt = 0

/** Notes that the key was pressed after which a digit goes to a stage; 0 forgets it. */
export function notePrefix(at: number): void {
  prefixAt = at
}

/** Whether a digit pressed at this moment goes to a stage: then nobody else may take it. */
export function prefixPending(at: number): boolean {
  return prefixAt !== 0 && at - prefixAt <= PREFIX_MS
}

/** True while a person types text, so that letters are letters. */
export function isTyping(target: EventTarget | null): boolean {
  if (!(target instanceof HTMLElement)) return false
  return target.isContentEditable || ["INPUT", "TEXTAREA", "SELECT"].includes(target.tagName)
}

/** Calls the handler for keys pressed outside text fields; it says whether it took the key. */
export function useKeys(handler: (event: KeyboardEvent) => boolean): void {
  const latest = useRef(handler)
  latest.current = handler
  useEffect(() => {
    const pressed = (event: KeyboardEvent) => {
      if (event.defaultPrevented || event.ctrlKey || event.metaKey || event.altKey) return
      if (isTyping(event.target) || document.querySelector("dialog[open]")) return
      if (belongsToFocus(event)) return
      if (latest.current(event)) event.preventDefault()
    }
    window.addEventListener("keydown", pressed)
    return () => window.removeEventListener("keydown", pressed)
  }, [])
}

/** Space presses a button that has the focus, Enter also follows a link: those keys are taken. */
function belongsToFocus(event: KeyboardEvent): boolean {
  if (!(event.target instanceof HTMLElement)) return false
  if (event.key === " ") return event.target.closest("button, summary") !== null
  return event.key === "Enter" && event.target.closest("button, summary, a") !== null
}

import { useNavigate } from "@tanstack/react-router"
import { useEffect } from "react"
import { notePrefix, prefixPending, singleKeysOn, useKeys } from "../parts/useKeys"
import { leaveField } from "../reach/focus"
import { STAGES } from "./stages"

/** G then a digit goes to a stage; ? opens the list of keys; Esc leaves a field. */
export function useStageKeys(slug: string, openKeys: () => void): void {
  const navigate = useNavigate()
  useKeys((event) => {
    if (!singleKeysOn()) return false
    if (event.key === "?") {
      openKeys()
      return true
    }
    if (event.code === "KeyG") {
      notePrefix(event.timeStamp)
      return true
    }
    const digit = /^(?:Digit|Numpad)([1-7])$/.exec(event.code)?.[1]
    if (digit === undefined || !prefixPending(event.timeStamp)) return false
    notePrefix(0)
    // Digits alone belong to the lanes: nobody else may see this one.
    event.stopImmediatePropagation()
    const path = STAGES[Number(digit) - 1]?.path
    if (path) void navigate({ to: path, params: { slug } })
    return true
  })
  useEffect(() => {
    const leave = (event: KeyboardEvent) => {
      if (event.key !== "Escape" || event.defaultPrevented) return
      const active = document.activeElement
      if (active?.closest("dialog")) return
      if (active instanceof HTMLElement && /^(INPUT|TEXTAREA|SELECT)$/.test(active.tagName)) {
        leaveField(active)
        event.preventDefault()
      }
    }
    window.addEventListener("keydown", leave)
    return () => window.removeEventListener("keydown", leave)
  }, [])
}

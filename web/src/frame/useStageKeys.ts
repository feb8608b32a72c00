import { useNavigate } from "@tanstack/react-router"
import { useEffect, useRef } from "react"
import { singleKeysOn, useKeys } from "../parts/useKeys"
import { STAGES } from "./stages"

const WAIT_MS = 1500

/** G then a digit goes to a stage; ? opens the list of keys; Esc leaves a field. */
export function useStageKeys(slug: string, openKeys: () => void): void {
  const navigate = useNavigate()
  const armedAt = useRef(0)
  useKeys((event) => {
    if (!singleKeysOn()) return false
    if (event.key === "?") {
      openKeys()
      return true
    }
    if (event.code === "KeyG") {
      armedAt.current = event.timeStamp
      return true
    }
    const digit = /^(?:Digit|Numpad)([1-7])$/.exec(event.code)?.[1]
    if (digit === undefined || event.timeStamp - armedAt.current > WAIT_MS) return false
    if (armedAt.current === 0) return false
    armedAt.current = 0
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
        active.blur()
        event.preventDefault()
      }
    }
    window.addEventListener("keydown", leave)
    return () => window.removeEventListener("keydown", leave)
  }, [])
}

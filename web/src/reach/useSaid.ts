import { useEffect, useRef } from "react"
import { announce } from "./announce"

/** So long something stands still before it is said. */
const STILL_MS = 1000

/** Says a text once it has changed and stands still, and not while one types or drags. */
export function useSaid(text: string): void {
  const before = useRef(text)
  useEffect(() => {
    const timer = setTimeout(() => {
      if (text !== before.current) announce(text)
      before.current = text
    }, STILL_MS)
    return () => clearTimeout(timer)
  }, [text])
}

import { type RefObject, useEffect, useRef, useState } from "react"
import { typeScale } from "../theme/rem"

/**
 * The width of an element as it changes, in pixels at the usual size of type: what is drawn to it
 * is enlarged as a whole where a reader has set larger type.
 */
export function useWidth(first: number): [RefObject<HTMLDivElement | null>, number] {
  const ref = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(first)
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const watch = new ResizeObserver(([entry]) => {
      if (entry && entry.contentRect.width > 0) setWidth(entry.contentRect.width / typeScale())
    })
    watch.observe(element)
    return () => watch.disconnect()
  }, [])
  return [ref, width]
}

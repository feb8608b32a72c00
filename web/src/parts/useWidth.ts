import { type RefObject, useEffect, useRef, useState } from "react"

/** The width of an element in pixels, as it changes. */
export function useWidth(first: number): [RefObject<HTMLDivElement | null>, number] {
  const ref = useRef<HTMLDivElement>(null)
  const [width, setWidth] = useState(first)
  useEffect(() => {
    const element = ref.current
    if (!element) return
    const watch = new ResizeObserver(([entry]) => {
      if (entry && entry.contentRect.width > 0) setWidth(entry.contentRect.width)
    })
    watch.observe(element)
    return () => watch.disconnect()
  }, [])
  return [ref, width]
}

import { type RefObject, useEffect } from "react"

/** Up to here a note lies over its stage. */
export const NARROW = "(width < 48rem)"

/** While an element lies over everything else on a narrow screen, the rest cannot be reached. */
export function useInertBehind(ref: RefObject<HTMLElement | null>): void {
  useEffect(() => {
    const narrow = window.matchMedia(NARROW)
    let stilled: Element[] = []
    const wake = () => {
      for (const each of stilled) each.removeAttribute("inert")
      stilled = []
    }
    const still = () => {
      wake()
      if (!narrow.matches) return
      for (
        let child: Element | null = ref.current;
        child?.parentElement;
        child = child.parentElement
      ) {
        if (child === document.body) break
        for (const beside of child.parentElement.children) {
          const spared =
            beside === child ||
            beside.hasAttribute("inert") ||
            beside.matches("script, [role=status], dialog")
          if (spared) continue
          beside.setAttribute("inert", "")
          stilled.push(beside)
        }
      }
    }
    still()
    narrow.addEventListener("change", still)
    return () => {
      narrow.removeEventListener("change", still)
      wake()
    }
  }, [ref])
}

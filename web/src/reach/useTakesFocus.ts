import { type RefObject, useEffect, useRef } from "react"
import { firstIn, focusOn } from "./focus"

/** For what opens elsewhere than the button that opens it: its first field has the focus. */
export function useTakesFocus<Of extends HTMLElement>(): RefObject<Of | null> {
  const opened = useRef<Of>(null)
  useEffect(() => focusOn(() => opened.current && firstIn(opened.current)), [])
  return opened
}

import { type MouseEvent, type PointerEvent, useRef } from "react"
import { momentOf } from "../lanes/lane"

/** A finger that lies on a button for longer than this rests there, and presses when it lifts. */
const HELD_MS = 5000

/**
 * Handlers of a button whose press counts from the moment at which it was touched, as a key's
 * does from when it goes down; a finger that slides off before it lifts has not pressed.
 */
export function usePress(act: (at: number, event: MouseEvent<HTMLButtonElement>) => void) {
  const down = useRef<number | null>(null)
  return {
    onPointerDown: (event: PointerEvent) => {
      down.current = event.timeStamp
    },
    onPointerCancel: () => {
      down.current = null
    },
    onClick: (event: MouseEvent<HTMLButtonElement>) => {
      const since = down.current
      down.current = null
      // A key presses without a pointer: then the click itself is the press.
      const touched = event.detail > 0 && since !== null && event.timeStamp - since < HELD_MS
      act(momentOf(touched ? { timeStamp: since } : event), event)
    },
  }
}

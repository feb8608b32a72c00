import type { Cut } from "../../../lanes/film/cut"
import { singleKeysOn, useKeys } from "../../../parts/useKeys"
import type { Shown } from "./useFilm"

/** Arrows step, S and E set the ends of the run that is chosen, a digit chooses one. */
export function useFilmKeys(
  shown: Shown,
  chosen: number,
  change: (at: number, changed: Partial<Cut>) => void,
  choose: (at: number) => void,
): void {
  useKeys((event) => {
    if (!singleKeysOn()) return false
    const by = event.shiftKey ? 10 : 1
    const digit = /^(?:Digit|Numpad)([1-8])$/.exec(event.code)?.[1]
    if (event.code === "ArrowRight") shown.step(by)
    else if (event.code === "ArrowLeft") shown.step(-by)
    else if (event.code === "Home") shown.go(0)
    else if (event.code === "End") shown.go(Number.MAX_SAFE_INTEGER)
    else if (event.code === "Space") shown.play()
    else if (event.code === "KeyS") change(chosen, { start: shown.frame })
    else if (event.code === "KeyE") change(chosen, { end: shown.frame })
    else if (digit) choose(Number(digit) - 1)
    else return false
    return true
  })
}

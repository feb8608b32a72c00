import { useEffect, useRef, useState } from "react"

/** So long a race takes on the screen where nobody says otherwise. */
const SHOWN_S = 15

/** The speed at which a race of this length is over in a quarter of a minute. */
export const usualSpeed = (lengthS: number) => Math.max(1, Math.round(lengthS / SHOWN_S))

export type RaceClock = {
  /** Seconds after the start, in the time of the race. */
  at: number
  playing: boolean
  speed: number
  setSpeed: (speed: number) => void
  /** Starts and stops; at the end it starts anew. */
  toggle: () => void
  /** Goes to a moment and stays there. */
  go: (at: number) => void
}

/** The clock of a race, with each frame of the screen. */
export function useClock(lengthS: number): RaceClock {
  const [at, setAt] = useState(lengthS)
  const [playing, setPlaying] = useState(false)
  const [speed, setSpeed] = useState(usualSpeed(lengthS))
  const now = useRef(at)
  now.current = at
  useEffect(() => {
    if (!playing) return
    let last: number | null = null
    let frame = requestAnimationFrame(function step(time) {
      const next = now.current + (last === null ? 0 : ((time - last) / 1000) * speed)
      last = time
      now.current = Math.min(next, lengthS)
      setAt(now.current)
      if (next < lengthS) frame = requestAnimationFrame(step)
      else setPlaying(false)
    })
    return () => cancelAnimationFrame(frame)
  }, [playing, speed, lengthS])
  const toggle = () => {
    if (!playing && at >= lengthS) setAt(0)
    setPlaying(!playing)
  }
  const go = (to: number) => {
    setPlaying(false)
    setAt(Math.min(Math.max(to, 0), lengthS))
  }
  return { at, playing, speed, setSpeed, toggle, go }
}

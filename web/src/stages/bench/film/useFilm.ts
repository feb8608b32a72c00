import { type RefObject, useCallback, useEffect, useRef, useState } from "react"
import { Frames } from "../../../lanes/film/decode"
import { frameAt } from "../../../lanes/film/frames"

/** A film on this screen: its frames, and the one that is shown. */
export type Shown = {
  frames: Frames | null
  /** The frame that is shown, counted from 0. */
  frame: number
  playing: boolean
  /** How many frames are known while it is read; null where nothing is being read. */
  reading: number | null
  error: Error | null
  canvas: RefObject<HTMLCanvasElement | null>
  open: (file: File) => void
  go: (frame: number) => void
  /** Goes so many frames on from where it was last told to go. */
  step: (by: number) => void
  play: () => void
}

/** Opens a film and steps through it; nothing of it leaves this device. */
export function useFilm(): Shown {
  const [frames, setFrames] = useState<Frames | null>(null)
  const [reading, setReading] = useState<number | null>(null)
  const [error, setError] = useState<Error | null>(null)
  const open = useCallback(async (file: File) => {
    setError(null)
    setReading(0)
    try {
      setFrames(await Frames.open(file, setReading))
    } catch (refused) {
      setError(refused as Error)
    } finally {
      setReading(null)
    }
  }, [])
  useEffect(() => () => frames?.close(), [frames])
  return { frames, reading, error, open, ...useSteps(frames, setError) }
}

/** Goes to frames of a film; what was asked for last is shown last. */
function useSteps(frames: Frames | null, failed: (error: Error) => void) {
  const [frame, setFrame] = useState(0)
  const [playing, setPlaying] = useState(false)
  const canvas = useRef<HTMLCanvasElement>(null)
  const wanted = useRef<number | null>(null)
  const busy = useRef(false)
  const target = useRef(0)

  const show = useCallback(
    async (at: number) => {
      wanted.current = at
      if (busy.current || !frames) return
      busy.current = true
      try {
        while (wanted.current !== null) {
          const next: number = wanted.current
          const picture = await frames.at(next)
          if (picture && canvas.current) draw(canvas.current, picture)
          if (wanted.current === next) wanted.current = null
          setFrame(next)
        }
      } catch (refused) {
        wanted.current = null
        // Another film was opened meanwhile.
        if (!frames.closed) failed(refused as Error)
      } finally {
        busy.current = false
      }
    },
    [frames, failed],
  )

  const go = useCallback(
    (to: number) => {
      if (!frames) return
      setPlaying(false)
      target.current = Math.min(Math.max(to, 0), frames.film.times.length - 1)
      void show(target.current)
    },
    [frames, show],
  )
  const step = useCallback((by: number) => go(target.current + by), [go])

  useEffect(() => {
    setFrame(0)
    target.current = 0
    void show(0)
  }, [show])

  const play = useCallback(() => setPlaying((before) => !before), [])
  const from = useRef(0)
  from.current = frame
  useEffect(() => {
    if (!playing || !frames) return
    const { film } = frames
    const begun = performance.now()
    const beganS = film.times[from.current] ?? 0
    let ticking = 0
    const tick = () => {
      const at = frameAt(film, beganS + (performance.now() - begun) / 1000)
      target.current = at
      if (at !== from.current) void show(at)
      if (at >= film.times.length - 1) setPlaying(false)
      else ticking = requestAnimationFrame(tick)
    }
    ticking = requestAnimationFrame(tick)
    return () => cancelAnimationFrame(ticking)
  }, [playing, frames, show])

  return { frame, playing, canvas, go, step, play }
}

function draw(onto: HTMLCanvasElement, picture: HTMLCanvasElement | OffscreenCanvas): void {
  if (onto.width !== picture.width || onto.height !== picture.height) {
    onto.width = picture.width
    onto.height = picture.height
  }
  onto.getContext("2d")?.drawImage(picture, 0, 0)
}

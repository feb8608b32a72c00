import { type RefObject, useState } from "react"
import type { Schemas } from "../../../api/client"
import { clock, compact, readNumber } from "../../../theme/format"
import { type RaceClock, usualSpeed } from "./useClock"

/** Play, the line of time, the speed, and the moments to stop at. */
export function RaceControls({
  view,
  race,
  stage,
}: {
  view: Schemas["RaceView"]
  race: RaceClock
  /** What fills the screen. */
  stage: RefObject<HTMLDivElement | null>
}) {
  const { at, playing, go } = race
  const step = view.length_s < 60 ? 0.1 : 1
  const half = view.moments.find((moment) => moment.kind === "half")
  const fill = () => {
    if (document.fullscreenElement) void document.exitFullscreen()
    else void stage.current?.requestFullscreen()
  }
  return (
    <div className="mt-3">
      <input
        type="range"
        className="range range-sm w-full max-w-none"
        aria-label="Moment of the race"
        aria-valuetext={`${clock(at, step)} of ${clock(view.length_s, step)}`}
        min={0}
        max={view.length_s}
        step={view.length_s / 1000}
        value={at}
        onChange={(event) => go(Number(event.target.value))}
      />
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <button type="button" className="btn btn-primary btn-sm w-28" onClick={race.toggle}>
          {playing ? "Pause" : "Play"} <kbd className="kbd kbd-sm text-base-content">Space</kbd>
        </button>
        <button type="button" className="btn btn-sm" onClick={() => go(0)}>
          Start
        </button>
        {half && (
          <button type="button" className="btn btn-sm" onClick={() => go(half.at_s)}>
            Half way
          </button>
        )}
        <button type="button" className="btn btn-sm" onClick={() => go(view.length_s)}>
          End
        </button>
        <Speed race={race} lengthS={view.length_s} />
        {document.fullscreenEnabled && (
          <button type="button" className="btn btn-sm btn-ghost" onClick={fill}>
            Fill the screen
          </button>
        )}
      </div>
      <ol className="race-moments mt-3 flex flex-wrap gap-x-4 gap-y-1 text-13">
        {view.moments.map((moment) => (
          <li key={`${moment.kind} ${moment.setup_id} ${moment.at_s}`}>
            <button
              type="button"
              className={`link-hover cursor-pointer text-left ${moment.at_s <= at && at > 0 ? "" : "text-mute"}`}
              onClick={() => go(moment.at_s)}
            >
              <span className="figure">{clock(moment.at_s, step)}</span> {moment.words}
            </button>
          </li>
        ))}
      </ol>
    </div>
  )
}

/** How many times as fast as it was. */
function Speed({ race, lengthS }: { race: RaceClock; lengthS: number }) {
  const [typed, setTyped] = useState<string | null>(null)
  const take = (text: string) => {
    setTyped(text)
    const speed = readNumber(text)
    if (speed !== null && speed > 0 && speed <= 10_000) race.setSpeed(speed)
  }
  const wrong = typed !== null && readNumber(typed) !== race.speed
  const set = (speed: number) => {
    setTyped(null)
    race.setSpeed(speed)
  }
  return (
    <span className="flex flex-wrap items-center gap-2">
      <label className="flex items-center gap-2 text-13">
        speed
        <input
          className="input input-sm figure w-20"
          inputMode="decimal"
          value={typed ?? compact(race.speed)}
          aria-invalid={wrong}
          onChange={(event) => take(event.target.value)}
          onBlur={() => setTyped(null)}
        />
        times
      </label>
      <button type="button" className="btn btn-sm btn-ghost" onClick={() => set(1)}>
        As it was
      </button>
      <button
        type="button"
        className="btn btn-sm btn-ghost"
        onClick={() => set(usualSpeed(lengthS))}
      >
        In 15 s
      </button>
      {wrong && (
        <span role="alert" className="text-13 text-accent">
          A number above 0, up to 10,000
        </span>
      )}
    </span>
  )
}

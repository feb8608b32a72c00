import { type FormEvent, useState } from "react"
import type { Cut } from "../../../lanes/film/cut"
import type { Film } from "../../../lanes/film/frames"
import { ActButton } from "../../../parts/ActButton"
import { SPOKEN } from "../../../reach/spoken"
import { clock, count, readNumber } from "../../../theme/format"
import type { Proof } from "./useProof"

/** What became of the stills that are its proof. */
export function Stills({ proof, onProof }: { proof: Proof | undefined; onProof: () => void }) {
  if (!proof) {
    return (
      <button type="button" className="underline" onClick={onProof}>
        Keep its stills as proof
      </button>
    )
  }
  if (proof.state === "saving") return <span {...SPOKEN}>Keeping its stills…</span>
  if ("stills" in proof)
    return <span {...SPOKEN}>{count(proof.stills, "still")} kept with it.</span>
  return (
    <>
      <span role="alert" className="text-accent">
        Its stills are not kept: {proof.state}
      </span>{" "}
      <button type="button" className="underline" onClick={onProof}>
        Try again
      </button>
    </>
  )
}

/** The beginning or the end: the frame that it was set to, and a press that sets it. */
export function End({
  film,
  label,
  letter,
  at,
  onGo,
  onSet,
}: {
  film: Film
  label: string
  letter: string
  at: number | null
  onGo: (frame: number) => void
  onSet: () => void
}) {
  return (
    <span className="flex items-center gap-1">
      <button type="button" className="btn btn-sm" onClick={onSet}>
        {label} here <kbd className="kbd kbd-sm">{letter}</kbd>
      </button>
      {at !== null && (
        <button
          type="button"
          className="figure text-13 underline"
          aria-label={`Go to where it ${label === "Done" ? "is done" : "begins"}`}
          onClick={() => onGo(at)}
        >
          {clock(film.times[at] ?? 0, 0.001)}
        </button>
      )}
    </span>
  )
}

/** How far it was at frames in between. */
export function Marks({
  film,
  frame,
  cut,
  onChange,
  onGo,
}: {
  film: Film
  frame: number
  cut: Cut
  onChange: (changed: Partial<Cut>) => void
  onGo: (frame: number) => void
}) {
  const [typed, setTyped] = useState("")
  const percent = readNumber(typed.replace("%", "").trim()) ?? 0
  const sound = percent > 0 && percent < 100
  const add = (event: FormEvent) => {
    event.preventDefault()
    if (!sound) return
    const others = cut.marks.filter((mark) => mark.frame !== frame)
    const marks = [...others, { frame, fraction: percent / 100 }]
    onChange({ marks: marks.sort((one, other) => one.frame - other.frame) })
    setTyped("")
  }
  return (
    <div className="mt-2 text-13">
      <form onSubmit={add} className="flex items-center gap-2">
        <input
          aria-label="Per cent done at this frame"
          placeholder="% at this frame"
          inputMode="decimal"
          className="input input-sm w-36 bg-page"
          value={typed}
          onChange={(event) => setTyped(event.target.value)}
        />
        <ActButton
          type="submit"
          className="btn btn-ghost btn-sm"
          needs={!sound && "Needs a percentage between 0 and 100."}
        >
          Mark it
        </ActButton>
      </form>
      {cut.marks.length > 0 && (
        <ul className="mt-1 flex flex-wrap gap-x-3">
          {cut.marks.map((mark) => (
            <li key={mark.frame}>
              <button type="button" className="figure underline" onClick={() => onGo(mark.frame)}>
                {Math.round(1000 * mark.fraction) / 10} % at{" "}
                {clock(film.times[mark.frame] ?? 0, 0.01)}
              </button>{" "}
              <button
                type="button"
                aria-label={`Take the mark of ${Math.round(100 * mark.fraction)} % back`}
                className="text-mute underline"
                onClick={() => onChange({ marks: cut.marks.filter((each) => each !== mark) })}
              >
                take back
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  )
}

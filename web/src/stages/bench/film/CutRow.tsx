import { type FormEvent, useState } from "react"
import type { Schemas } from "../../../api/client"
import { type Cut, frameOf, lengthOf, whyNot } from "../../../lanes/film/cut"
import type { Film } from "../../../lanes/film/frames"
import { ActButton } from "../../../parts/ActButton"
import { ChoiceField } from "../../../parts/ChoiceField"
import { SetupMark } from "../../../parts/SetupMark"
import { SPOKEN } from "../../../reach/spoken"
import { clock, count, readNumber } from "../../../theme/format"
import type { Proof } from "./useProof"

/** One run that is read off the film. */
export function CutRow({
  film,
  frame,
  cut,
  number,
  chosen,
  stored,
  waiting,
  proof,
  setups,
  tasks,
  onChoose,
  onChange,
  onGo,
  onStore,
  onProof,
}: {
  film: Film
  /** The frame that is shown. */
  frame: number
  cut: Cut
  number: number
  chosen: boolean
  stored: boolean
  /** It is on its way, or was refused: the book does not have it. */
  waiting: boolean
  /** How far its stills are. */
  proof: Proof | undefined
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  onChoose: () => void
  onChange: (changed: Partial<Cut>) => void
  onGo: (frame: number) => void
  onStore: () => void
  onProof: () => void
}) {
  const setup = setups.find((each) => each.id === cut.setupId)
  const length = lengthOf(film, cut)
  const missing = whyNot(film, cut)
  return (
    <section
      aria-label={`Run ${number}, ${setup?.label ?? ""}`}
      className={`border-b border-line py-3 first:border-t ${chosen ? "border-l-4 border-l-accent pl-3" : "pl-4"}`}
    >
      <div className="flex flex-wrap items-center gap-x-3">
        <button
          type="button"
          aria-label={`Read run ${number}`}
          aria-pressed={chosen}
          className="figure grid h-8 w-8 place-items-center rounded border-2 border-base-content bg-page"
          onClick={onChoose}
        >
          {number}
        </button>
        <strong className="flex items-center gap-2">
          {setup && <SetupMark index={setup.mark} />}
          {setup?.label}
        </strong>
        <span className="figure ml-auto text-24 font-bold">
          {length === null ? <span className="text-mute">0:00</span> : clock(length, 0.001)}
        </span>
      </div>
      {chosen && !stored && (
        <>
          <div className="mt-2 grid gap-2">
            <ChoiceField
              label="Machine"
              value={cut.setupId}
              options={setups.map((each) => ({ value: each.id, words: each.label }))}
              onValue={(setupId) => onChange({ setupId })}
            />
            <ChoiceField
              label="Task"
              value={cut.taskId}
              options={tasks.map((each) => ({ value: each.id, words: each.name }))}
              onValue={(taskId) => onChange({ taskId })}
            />
          </div>
          <div className="mt-2 flex flex-wrap items-center gap-2">
            <End
              film={film}
              label="Begins"
              letter="S"
              at={cut.start}
              onGo={onGo}
              onSet={() => onChange({ start: frame })}
            />
            <End
              film={film}
              label="Done"
              letter="E"
              at={cut.end}
              onGo={onGo}
              onSet={() => onChange({ end: frame })}
            />
          </div>
          <Marks film={film} frame={frame} cut={cut} onChange={onChange} onGo={onGo} />
        </>
      )}
      {stored ? (
        <p className="mt-1 text-13 text-mute">
          {waiting ? "Waiting on this device" : "Saved"}, as read off a film.{" "}
          <Stills proof={proof} onProof={onProof} />
        </p>
      ) : missing !== null ? (
        chosen && <p className="mt-2 text-13 text-mute">{missing}</p>
      ) : (
        <div className="mt-2 flex flex-wrap items-center gap-3">
          <button type="button" className="btn btn-primary btn-sm" onClick={onStore}>
            Store this run
          </button>
          <span className="text-13 text-mute">
            exact to a frame of{" "}
            <span className="figure">{Math.round(1000 * frameOf(film, cut))} ms</span>
          </span>
        </div>
      )}
    </section>
  )
}

/** What became of the stills that are its proof. */
function Stills({ proof, onProof }: { proof: Proof | undefined; onProof: () => void }) {
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
function End({
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
function Marks({
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

import type { Schemas } from "../../../api/client"
import { type Cut, frameOf, lengthOf, whyNot } from "../../../lanes/film/cut"
import type { Film } from "../../../lanes/film/frames"
import { ChoiceField } from "../../../parts/ChoiceField"
import { SetupMark } from "../../../parts/SetupMark"
import { clock } from "../../../theme/format"
import { End, Marks, Stills } from "./CutParts"
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

import { useId, useState } from "react"
import type { Schemas } from "../../api/client"
import { type ClipShape, ticksOf, usePreview, useStartClip } from "../../api/clips"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { compact, localised, readNumber } from "../../theme/format"
import { Films } from "./ClipFilms"

type Kind = ClipShape["kind"]

const KINDS: { id: Kind; words: string; clear: boolean }[] = [
  { id: "prores", words: "ProRes 4444, for editing", clear: true },
  { id: "animation", words: "QuickTime RLE, no loss", clear: true },
  { id: "webm", words: "WebM, for pages", clear: true },
  { id: "mp4", words: "MP4, small", clear: false },
  { id: "frames", words: "PNG frames in a zip", clear: true },
]

const RATES = [23.976, 24, 25, 29.97, 30, 50, 59.94, 60]

/** A card as a film: looked at first, then made as a file. */
export function Clips({
  slug,
  view,
  shape,
  look,
  onPlay,
}: {
  slug: string
  view: Schemas["CardView"]
  shape: string
  look: string
  /** A film that was drawn to be looked at, as an address. */
  onPlay: (address: string) => void
}) {
  const [kind, setKind] = useState<Kind>("prores")
  const [rate, setRate] = useState("25")
  const [seconds, setSeconds] = useState(compact(view.card.seconds))
  const [hold, setHold] = useState("2")
  const [cuts, setCuts] = useState(false)
  const start = useStartClip(slug)
  const preview = usePreview(slug, view.card.id)
  const length = readNumber(seconds)
  const rest = readNumber(hold)
  const kinds = KINDS.filter((each) => look !== "clear" || each.clear)
  const film = kinds.find((each) => each.id === kind)?.id ?? "prores"
  const asked =
    length === null || rest === null
      ? null
      : ({
          shape,
          look,
          kind: film,
          rate: Number(rate),
          seconds: length,
          hold: rest,
          cuts,
        } as ClipShape)
  return (
    <section aria-label="As a film" className="mt-5 border-t border-line pt-3">
      <h2 className="text-14">As a film</h2>
      <div className="mt-1 flex flex-wrap items-end gap-2 text-13 text-mute">
        <Pick
          label="File"
          value={film}
          options={kinds.map((each) => [each.id, each.words])}
          onPick={(value) => setKind(value as Kind)}
        />
        <Pick
          label="Frames per second"
          value={rate}
          options={RATES.map((each) => [String(each), localised(String(each))])}
          onPick={setRate}
        />
        <div className="w-20">
          <TextField label="Seconds" inputMode="decimal" value={seconds} onText={setSeconds} />
        </div>
        <div className="w-20">
          <TextField label="Rest at end" inputMode="decimal" value={hold} onText={setHold} />
        </div>
        <label className="flex min-h-8 items-center gap-1.5">
          <input
            type="checkbox"
            className="checkbox checkbox-xs"
            checked={cuts}
            onChange={(event) => setCuts(event.target.checked)}
          />
          cuts, no motion
        </label>
      </div>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <ActButton
          type="button"
          className="btn btn-sm h-8"
          busy={preview.isPending}
          needs={asked === null && "Needs a length and a rest in seconds."}
          onClick={() => asked && preview.mutate(asked, { onSuccess: onPlay })}
        >
          {preview.isPending ? "Drawing…" : "Play it here"}
        </ActButton>
        <Writes>
          <ActButton
            type="button"
            className="btn btn-sm btn-primary h-8"
            busy={start.isPending}
            needs={asked === null && "Needs a length and a rest in seconds."}
            onClick={() => asked && start.mutate({ ...asked, card_id: view.card.id })}
          >
            Make film
          </ActButton>
        </Writes>
        {asked && (
          <a
            className="text-13 underline"
            href={ticksOf(slug, view.card.id, asked)}
            title="A quiet tick on the frame where each machine is done"
            download
          >
            Sound: ticks (WAV)
          </a>
        )}
        {asked === null && (
          <span className="text-13 text-accent">Give both lengths as seconds, such as 8.</span>
        )}
      </div>
      <ProblemNote error={preview.error ?? start.error} />
      <Films slug={slug} card={view.card.id} />
    </section>
  )
}

/** One of a few, in a list. */
function Pick({
  label,
  value,
  options,
  onPick,
}: {
  label: string
  value: string
  options: [string, string][]
  onPick: (value: string) => void
}) {
  const id = useId()
  return (
    <div>
      <label htmlFor={id} className="mb-0.5 block">
        {label}
      </label>
      <select
        id={id}
        className="select select-sm bg-page text-base-content"
        value={value}
        onChange={(event) => onPick(event.target.value)}
      >
        {options.map(([id, words]) => (
          <option key={id} value={id}>
            {words}
          </option>
        ))}
      </select>
    </div>
  )
}

import type { Cut } from "../../../lanes/film/cut"
import type { Frames } from "../../../lanes/film/decode"
import { type Film, frameAt } from "../../../lanes/film/frames"
import { saveFile } from "../../../parts/saveFile"
import { clock, compact } from "../../../theme/format"
import type { Shown } from "./useFilm"

/** The film, where it stands, and the ways to step through it. */
export function Player({
  shown,
  frames,
  cut,
}: {
  shown: Shown
  frames: Frames
  /** The run that is being read. */
  cut: Cut | undefined
}) {
  const { frame, go } = shown
  const { film } = frames
  const at = film.times[frame] ?? 0
  const second = (by: number) => {
    const to = frameAt(film, at + by)
    go(to === frame ? frame + Math.sign(by) : to)
  }
  return (
    <div>
      <canvas
        ref={shown.canvas}
        role="img"
        aria-label={`${film.name}, frame ${frame + 1}`}
        className="mx-auto max-h-[52vh] max-w-full bg-black"
      />
      <div className="relative mt-2">
        <input
          type="range"
          className="range range-xs w-full"
          aria-label="Frame of the film"
          aria-valuetext={`frame ${frame + 1}, ${clock(at, 0.001)}`}
          min={0}
          max={film.times.length - 1}
          value={frame}
          onChange={(event) => go(Number(event.target.value))}
        />
        {cut && <Ends film={film} cut={cut} />}
      </div>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <p className="figure mr-2 text-24 font-bold" role="status" aria-live="off">
          {clock(at, 0.001)}
          <span className="ml-2 text-13 font-normal text-mute">
            frame {compact(frame + 1)} of {compact(film.times.length)}
          </span>
        </p>
        <Step label="One second back" words="−1 s" onStep={() => second(-1)} />
        <Step label="One frame back" words="− frame" onStep={() => shown.step(-1)} />
        <button type="button" className="btn btn-sm" onClick={shown.play}>
          {shown.playing ? "Pause" : "Play"}
        </button>
        <Step label="One frame on" words="+ frame" onStep={() => shown.step(1)} />
        <Step label="One second on" words="+1 s" onStep={() => second(1)} />
        <button
          type="button"
          className="btn btn-ghost btn-sm"
          onClick={() => void saveStill(frames, frame)}
        >
          Save this still
        </button>
      </div>
      <p className="mt-1 text-13 text-mute">
        Arrow keys step by a frame, with Shift by ten; Space plays; S and E set beginning and end.
      </p>
    </div>
  )
}

function Step({ label, words, onStep }: { label: string; words: string; onStep: () => void }) {
  return (
    <button type="button" className="btn btn-sm" aria-label={label} onClick={onStep}>
      {words}
    </button>
  )
}

/** Where the run begins, ends and was marked, below the scale. */
function Ends({ film, cut }: { film: Film; cut: Cut }) {
  const part = (frame: number) => `${(100 * frame) / (film.times.length - 1)}%`
  const { start, end } = cut
  return (
    <svg className="block h-3 w-full overflow-visible" aria-hidden="true">
      {start !== null && end !== null && end > start && (
        <rect
          x={part(start)}
          width={`${(100 * (end - start)) / (film.times.length - 1)}%`}
          y="4"
          height="4"
          fill="var(--color-base-content)"
        />
      )}
      {[start, end].map(
        (frame, place) =>
          frame !== null && (
            <line
              // biome-ignore lint/suspicious/noArrayIndexKey: the beginning and the end
              key={place}
              x1={part(frame)}
              x2={part(frame)}
              y1="0"
              y2="12"
              stroke="var(--color-base-content)"
              strokeWidth="2"
            />
          ),
      )}
      {cut.marks.map((mark) => (
        <line
          key={mark.frame}
          x1={part(mark.frame)}
          x2={part(mark.frame)}
          y1="2"
          y2="10"
          stroke="var(--color-accent)"
        />
      ))}
    </svg>
  )
}

/** Saves a frame as a picture as large as it was filmed: a proof of the reading. */
async function saveStill(frames: Frames, frame: number): Promise<void> {
  const drawn = await frames.still(frame)
  if (!drawn) return
  const name = `${frames.film.name}-frame-${frame + 1}.png`
  if ("convertToBlob" in drawn) saveFile(await drawn.convertToBlob({ type: "image/png" }), name)
  else drawn.toBlob((picture) => picture && saveFile(picture, name), "image/png")
}

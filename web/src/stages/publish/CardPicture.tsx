import { useEffect, useState } from "react"
import { pictureOf } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { Clips } from "./Clips"

const SHAPES = [
  { id: "wide", words: "16:9", width: 1920, height: 1080 },
  { id: "tall", words: "9:16", width: 1080, height: 1920 },
  { id: "square", words: "1:1", width: 1080, height: 1080 },
]
const LOOKS = ["day", "night", "clear"].map((id) => ({ id, words: id }))

/** A card exactly as it is exported, in a shape and on a background. */
export function CardPicture({
  slug,
  view,
  shape,
  look,
  onShape,
  onLook,
}: {
  slug: string
  view: Schemas["CardView"]
  shape: string
  look: string
  onShape: (shape: string) => void
  onLook: (look: string) => void
}) {
  const size = SHAPES.find((each) => each.id === shape) ?? SHAPES[0]
  // A film stands in the picture's place as long as it shows the same.
  const shown = [view.card.id, view.card.version, view.revision, shape, look].join(" ")
  const [film, setFilm] = useState<{ address: string; of: string } | null>(null)
  return (
    <section aria-label="Card as it is exported" className="min-w-0">
      <div className="mb-1 flex flex-wrap gap-x-5">
        <Choice name="shape" title="Shape" options={SHAPES} chosen={shape} onChoose={onShape} />
        <Choice name="look" title="Background" options={LOOKS} chosen={look} onChoose={onLook} />
      </div>
      {view.problem ? (
        <p className="border-l-2 border-accent pl-2 text-13 text-accent" role="alert">
          {view.problem}
        </p>
      ) : (
        <>
          {film?.of === shown ? (
            <Player
              key={film.address}
              address={film.address}
              look={look}
              name={view.title}
              onEnd={() => setFilm(null)}
            />
          ) : (
            <img
              src={pictureOf(slug, view, shape, look, "svg")}
              alt={view.alt}
              width={size?.width}
              height={size?.height}
              className={`card-picture ${look === "clear" ? "card-clear" : ""}`}
            />
          )}
          <Saves slug={slug} view={view} shape={shape} look={look} />
          {view.missing && (
            <p className="mt-1 text-13 text-accent">
              These characters cannot be drawn: {view.missing}
            </p>
          )}
          <details className="mt-2 text-13">
            <summary className="text-mute underline">Text alternative</summary>
            <pre className="mt-1 font-sans whitespace-pre-wrap select-all">{view.alt}</pre>
          </details>
          <Clips
            key={view.card.id}
            slug={slug}
            view={view}
            shape={shape}
            look={look}
            onPlay={(address) => setFilm({ address, of: shown })}
          />
        </>
      )}
    </section>
  )
}

/** The film at half its size; the same frames as the file will have. */
function Player({
  address,
  look,
  name,
  onEnd,
}: {
  address: string
  look: string
  name: string
  onEnd: () => void
}) {
  useEffect(() => () => URL.revokeObjectURL(address), [address])
  return (
    <figure>
      <video
        src={address}
        aria-label={`${name}, moving`}
        className={`card-picture ${look === "clear" ? "card-clear" : ""}`}
        controls
        autoPlay
        muted
        playsInline
      />
      <figcaption className="mt-1 text-12 text-mute">
        The same frames as in the file, at half the size.{" "}
        <button type="button" className="underline" onClick={onEnd}>
          Show the still
        </button>
      </figcaption>
    </figure>
  )
}

/** One of a few, side by side. */
function Choice({
  name,
  title,
  options,
  chosen,
  onChoose,
}: {
  name: string
  title: string
  options: { id: string; words: string }[]
  chosen: string
  onChoose: (id: string) => void
}) {
  return (
    <div role="radiogroup" aria-label={title} className="flex gap-2">
      {options.map((each) => (
        <label
          key={each.id}
          className={`min-h-8 px-1 text-13 ${each.id === chosen ? "font-bold underline" : "text-mute"}`}
        >
          <input
            type="radio"
            name={name}
            className="radio radio-xs mr-1 align-[-2px]"
            checked={each.id === chosen}
            onChange={() => onChoose(each.id)}
          />
          {each.words}
        </label>
      ))}
    </div>
  )
}

/** The picture as a file, and what is to be known of it. */
function Saves({
  slug,
  view,
  shape,
  look,
}: {
  slug: string
  view: Schemas["CardView"]
  shape: string
  look: string
}) {
  return (
    <div className="mt-2 flex flex-wrap items-center gap-2">
      <a
        className="btn btn-sm btn-primary h-8"
        href={`${pictureOf(slug, view, shape, look, "png")}&save=true`}
        download
      >
        Save PNG
      </a>
      <a
        className="btn btn-sm h-8"
        href={`${pictureOf(slug, view, shape, look, "svg")}&save=true`}
        download
      >
        Save SVG
      </a>
      <span className="text-12 text-mute">{view.notes.join(" · ")}</span>
    </div>
  )
}

import { pictureOf } from "../../api/cards"
import type { Schemas } from "../../api/client"

const SHAPES = [
  { id: "wide", words: "16:9", width: 1920, height: 1080 },
  { id: "tall", words: "9:16", width: 1080, height: 1920 },
  { id: "square", words: "1:1", width: 1080, height: 1080 },
]
const LOOKS = ["day", "night", "clear"]

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
  const choice = "min-h-8 px-1 text-[13px]"
  return (
    <section aria-label="Card as it is exported" className="min-w-0">
      <div className="mb-1 flex flex-wrap gap-x-5">
        <div role="radiogroup" aria-label="Shape" className="flex gap-2">
          {SHAPES.map((each) => (
            <label
              key={each.id}
              className={`${choice} ${each.id === shape ? "font-bold underline" : "text-mute"}`}
            >
              <input
                type="radio"
                name="shape"
                className="radio radio-xs mr-1 align-[-2px]"
                checked={each.id === shape}
                onChange={() => onShape(each.id)}
              />
              {each.words}
            </label>
          ))}
        </div>
        <div role="radiogroup" aria-label="Background" className="flex gap-2">
          {LOOKS.map((each) => (
            <label
              key={each}
              className={`${choice} ${each === look ? "font-bold underline" : "text-mute"}`}
            >
              <input
                type="radio"
                name="look"
                className="radio radio-xs mr-1 align-[-2px]"
                checked={each === look}
                onChange={() => onLook(each)}
              />
              {each}
            </label>
          ))}
        </div>
      </div>
      {view.problem ? (
        <p className="border-l-2 border-accent pl-2 text-[13px] text-accent" role="alert">
          {view.problem}
        </p>
      ) : (
        <>
          <img
            src={pictureOf(slug, view, shape, look, "svg")}
            alt={view.alt}
            width={size?.width}
            height={size?.height}
            className={`card-picture ${look === "clear" ? "card-clear" : ""}`}
          />
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
            <span className="text-[12px] text-mute">{view.notes.join(" · ")}</span>
          </div>
          {view.missing && (
            <p className="mt-1 text-[13px] text-accent">
              The shipped fonts have no shape for: {view.missing}
            </p>
          )}
          <details className="mt-2 text-[13px]">
            <summary className="text-mute underline">Text alternative</summary>
            <pre className="mt-1 font-sans whitespace-pre-wrap select-all">{view.alt}</pre>
          </details>
        </>
      )}
    </section>
  )
}

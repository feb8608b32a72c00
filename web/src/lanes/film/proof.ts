/** The stills of a reading, kept with its run: whoever doubts a time sees both of its ends. */
import { addRun } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { postForm } from "../../api/client"
import type { Cut } from "./cut"
import { runOf } from "./cut"
import type { Frames } from "./decode"

/** The server takes pictures up to this. */
const MOST_BYTES = 5_000_000
const QUALITIES = [0.92, 0.8, 0.6]

/** The frames of a run that say what was read, each with what it is. */
export function proofFrames(cut: Cut): [number, string][] {
  const { start, end } = cut
  if (start === null || end === null) return []
  const inside = cut.marks.filter((mark) => mark.frame > start && mark.frame < end)
  return [
    [start, "begins"],
    ...inside.map((mark): [number, string] => [
      mark.frame,
      `${Math.round(100 * mark.fraction)} per cent`,
    ]),
    [end, "done"],
  ]
}

/** What was kept already: a second try keeps nothing twice. */
const kept = new Set<string>()

/** Keeps the stills of a run with it; gives how many there are. */
export async function keepProof(slug: string, frames: Frames, cut: Cut): Promise<number> {
  const wanted = proofFrames(cut)
  // The key of the run keeps it from being stored twice, whoever sends it first.
  const { run } = await addRun(slug, runOf(frames.film, cut))
  for (const [frame, what] of wanted) {
    const name = `${cut.id} ${frame} ${what}`
    if (kept.has(name)) continue
    const picture = await stillOf(frames, frame)
    const form = new FormData()
    form.append("file", picture, `${frames.film.name}, frame ${frame + 1}, ${what}.jpg`)
    await postForm<Schemas["RunDetail"]>(`/api/v1/runs/${run.id}/pictures`, form)
    kept.add(name)
  }
  return wanted.length
}

async function stillOf(frames: Frames, frame: number): Promise<Blob> {
  const drawn = await frames.still(frame)
  for (const quality of QUALITIES) {
    const picture = drawn && (await pictureOf(drawn, quality))
    if (picture && picture.size <= MOST_BYTES) return picture
  }
  throw new Error(`Frame ${frame + 1} cannot be kept as a picture.`)
}

function pictureOf(
  drawn: HTMLCanvasElement | OffscreenCanvas,
  quality: number,
): Promise<Blob | null> {
  if ("convertToBlob" in drawn) return drawn.convertToBlob({ type: "image/jpeg", quality })
  return new Promise((resolve) => drawn.toBlob(resolve, "image/jpeg", quality))
}

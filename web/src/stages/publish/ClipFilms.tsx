import { useQuery } from "@tanstack/react-query"
import { clipsQuery, filmOf, useEndClip } from "../../api/clips"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { compact, moment } from "../../theme/format"

/** The films of a card: how far each is, and those that are there. */
export function Films({ slug, card }: { slug: string; card: string }) {
  const clips = useQuery(clipsQuery(slug))
  const end = useEndClip(slug)
  const own = clips.data?.filter((each) => each.clip.card_id === card) ?? []
  return (
    <>
      <ProblemNote error={clips.error ?? end.error} />
      <ul className="mt-2 text-13" aria-label="Films">
        {own.map(({ clip, file, outdated }) => (
          <li
            key={clip.id}
            className="flex flex-wrap items-center gap-x-3 border-t border-line py-1.5"
          >
            <span className="min-w-0 flex-1 break-words">
              {file}{" "}
              <span className="text-mute">
                {moment(clip.created_at)}
                {clip.size !== null && `, ${compact(Math.ceil(clip.size / 1e5) / 10)} MB`}
              </span>
              {clip.state === "done" && outdated && (
                <span className="text-accent"> · out of date: something has changed since</span>
              )}
              {clip.state === "ended" && <span className="text-mute"> · stopped</span>}
              {clip.problem && <span className="text-accent"> {clip.problem}</span>}
            </span>
            {clip.state === "running" && (
              <>
                <progress
                  className="progress w-32"
                  aria-label={`${file}: ${clip.step}`}
                  value={clip.done}
                  max={1}
                />
                <Writes>
                  <button type="button" className="underline" onClick={() => end.mutate(clip.id)}>
                    Stop
                  </button>
                </Writes>
              </>
            )}
            {clip.state === "done" && (
              <a className="underline" href={filmOf(slug, clip.id)} download>
                Save film
              </a>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}

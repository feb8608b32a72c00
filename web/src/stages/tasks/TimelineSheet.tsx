import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { timelineQuery } from "../../api/queries"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { count, localised } from "../../theme/format"
import { AddTimelineFile } from "./AddTimelineFile"
import { TrackLines } from "./TrackLines"

/** The timeline behind a task, drawn from its file; files saved on each setup come in here. */
export function TimelineSheet({ slug, timelineId }: { slug: string; timelineId: string }) {
  const { data, error } = useQuery(timelineQuery(timelineId))
  return (
    <section className="mt-8 max-w-3xl" aria-label="Timeline">
      <h2 className="text-16">Timeline{data && `: ${data.name}`}</h2>
      <ProblemNote error={error} />
      {data && !data.reference && (
        <p className="text-mute">
          Import the timeline’s file, then the file saved on each machine: the list says whether
          they are the same edit.
        </p>
      )}
      {data?.facts && data.reference && (
        <>
          <p className="mb-2 text-13 text-mute">
            {data.reference.name} · {data.facts.length} at {localised(data.facts.rate)} frames/s ·{" "}
            {count(data.facts.tracks.length, "track")}, {count(data.facts.clips, "clip")},{" "}
            {data.facts.cuts !== null && <>{count(data.facts.cuts, "cut")}, </>}
            {count(data.facts.effects, "effect")}, {count(data.facts.media, "media file")} ·{" "}
            <span className="figure" title={data.reference.fingerprint}>
              {data.reference.fingerprint.slice(0, 10)}
            </span>
          </p>
          <TrackLines facts={data.facts} />
          {data.facts.media_names.length > 0 && (
            <details className="mt-1 text-13 text-mute">
              <summary className="cursor-pointer">its media files</summary>
              <p className="break-words">
                {data.facts.media_names.join(", ")}
                {data.facts.media > data.facts.media_names.length && " …"}
              </p>
            </details>
          )}
        </>
      )}
      {data && (
        <Writes>
          <AddTimelineFile slug={slug} timelineId={timelineId} setups={settable(data)} />
        </Writes>
      )}
    </section>
  )
}

function settable(data: Schemas["TimelineSheet"]): { id: string; label: string }[] {
  return data.setups.flatMap((s) => (s.setup_id ? [{ id: s.setup_id, label: s.label }] : []))
}

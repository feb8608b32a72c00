import type { Schemas } from "../../api/client"
import { useAttachPicture, useAttachProbe } from "../../api/runs"
import { PickFile } from "../../parts/PickFile"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading, Writes } from "../../parts/Reading"
import { NotePart } from "../../parts/SideNote"
import { moment } from "../../theme/format"

/** Pictures of the screen, and the probe file of what the run wrote. */
export function Attachments({ slug, detail }: { slug: string; detail: Schemas["RunDetail"] }) {
  const picture = useAttachPicture(slug, detail.run.id)
  const probe = useAttachProbe(slug, detail.run)
  const reading = useReading()
  if (reading && detail.pictures.length === 0) return null
  return (
    <NotePart title="Attached">
      {detail.pictures.map((each) => (
        <a
          key={each.id}
          href={`/api/v1/pictures/${each.id}`}
          target="_blank"
          rel="noreferrer"
          className="mb-2 block"
        >
          <img
            src={`/api/v1/pictures/${each.id}`}
            alt={`Attached: ${each.name}`}
            className="max-h-40 w-full border border-line object-contain"
          />
          <span className="block text-12 break-words text-mute">
            {each.name}, {moment(each.added_at)}
          </span>
        </a>
      ))}
      <Writes>
        <div className="flex flex-wrap gap-2">
          <PickFile
            label="Attach a picture"
            accept="image/png,image/jpeg"
            onFile={picture.mutate}
          />
          <PickFile
            label="Attach media info file"
            accept=".json,application/json"
            onFile={probe.mutate}
          />
        </div>
      </Writes>
      {probe.isSuccess && (
        <p className="mt-1 text-13">Kept. Tasks shows whether the output is as wanted.</p>
      )}
      <ProblemNote error={picture.error ?? probe.error} />
    </NotePart>
  )
}

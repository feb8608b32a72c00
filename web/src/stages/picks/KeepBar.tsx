import { problemOf } from "../../api/client"
import { useChangeViewer, useKeepPrices } from "../../api/picks"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { changesOf, type Draft, type Prices } from "./draft"

/** What is tried and not stored: keep it, or put it back. */
export function KeepBar({
  slug,
  viewer,
  base,
  draft,
  prices,
  onDone,
}: {
  slug: string
  /** Id of the viewer. */
  viewer: string
  /** The viewer as it stood when the trying began. */
  base: { draft: Draft; version: number }
  draft: Draft
  prices: Prices
  /** Everything tried is stored, or put back. */
  onDone: () => void
}) {
  const change = useChangeViewer(slug)
  const keepPrices = useKeepPrices(slug)
  const changes = changesOf(base.draft, draft)
  const what = [
    ...(Object.keys(changes).length > 0 ? ["this viewer"] : []),
    ...(Object.keys(prices).length > 0
      ? [Object.keys(prices).length === 1 ? "a price" : "prices"]
      : []),
  ].join(" and ")
  if (what === "") return null
  const keep = async (version: number) => {
    if (Object.keys(changes).length > 0) {
      await change.mutateAsync({ id: viewer, body: { ...changes, version } })
    }
    if (Object.keys(prices).length > 0) {
      await keepPrices.mutateAsync({ id: viewer, prices })
    }
    onDone()
  }
  // What was refused is shown below; nothing of it was stored.
  const tryKeep = (version: number) => void keep(version).catch(() => undefined)
  const error = change.error ?? keepPrices.error
  const stands = problemOf(error)?.current as { version?: number } | undefined
  return (
    <section
      aria-label="Unsaved changes"
      className="sticky top-0 z-10 mb-3 border-l-[3px] border-accent bg-band px-3 py-1.5 text-13"
    >
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
        <span className="min-w-0 flex-1">
          <strong>Unsaved changes</strong> to {what}.
        </span>
        <Writes>
          <ActButton
            type="button"
            className="btn btn-primary btn-xs h-7 px-3 text-13"
            busy={change.isPending || keepPrices.isPending}
            onClick={() => tryKeep(base.version)}
          >
            Save
          </ActButton>
        </Writes>
        <button type="button" className="btn btn-xs h-7 px-3 text-13" onClick={onDone}>
          Undo
        </button>
      </div>
      <ProblemNote error={error}>
        {stands?.version !== undefined && (
          <button
            type="button"
            className="ml-2 underline"
            onClick={() => tryKeep(stands.version ?? base.version)}
          >
            Save mine over it
          </button>
        )}
      </ProblemNote>
    </section>
  )
}

import { useTakeBack } from "../../api/runs"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import type { LastChange } from "./lastChange"

/** Says what was changed last, and takes it back. */
export function TakeBack({
  slug,
  last,
  onUndone,
  onTaken,
}: {
  slug: string
  last: LastChange
  /** It was taken back: what was said of it holds no more. */
  onUndone: () => void
  onTaken: () => void
}) {
  const take = useTakeBack(slug)
  return (
    <div
      {...SPOKEN}
      className="mb-3 flex flex-wrap items-center gap-3 border-l-2 border-base-content pl-2"
    >
      <span>{take.data ? take.data.says : last.says}</span>
      {!take.data && (
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={take.isPending}
          onClick={() => take.mutate(last.runs, { onSuccess: onUndone })}
        >
          Undo
        </ActButton>
      )}
      <button type="button" className="text-13 text-mute underline" onClick={onTaken}>
        Close
      </button>
      <ProblemNote error={take.error} />
    </div>
  )
}

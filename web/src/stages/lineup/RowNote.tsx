import { usePutOnTrial, useRemoveFreeRow, useRenameFreeRow } from "../../api/changes"
import { ActButton } from "../../parts/ActButton"
import { EditCell } from "../../parts/EditCell"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading } from "../../parts/Reading"
import { SideNote } from "../../parts/SideNote"
import type { Row } from "./specs"

/** One row of the sheet: what it holds, whether it is on trial; its name where it is one's own. */
export function RowNote({ slug, row, onClose }: { slug: string; row: Row; onClose: () => void }) {
  const trial = usePutOnTrial(slug)
  const rename = useRenameFreeRow(slug)
  const remove = useRemoveFreeRow(slug)
  const id = row.free_row_id
  const reading = useReading()
  const save = async (title: string) => {
    if (!id || !title.trim()) return { saved: false as const, reason: "A row needs a name." }
    await rename.mutateAsync({ id, title })
    return { saved: true as const }
  }
  return (
    <SideNote title={`Row · ${row.group}`} name={row.title} about={row.field} onClose={onClose}>
      <div className="font-head text-18 font-bold">
        {id ? (
          <EditCell
            label="Name of the row"
            shown={row.title}
            text={row.title}
            onSave={save}
            theirs={() => row.title}
          />
        ) : (
          row.title
        )}
      </div>
      <p className="mt-1 text-13 text-mute">
        Holds {row.choices.length > 0 ? `one of: ${row.choices.join(", ")}` : row.kind}
        {row.unit && `, in ${row.unit}`}.{" "}
        {row.level === "machine"
          ? "A setup may have its own value."
          : "It belongs to each setup: the state of the test."}
      </p>
      <label className="mt-4 flex items-start gap-2">
        <input
          type="checkbox"
          disabled={reading}
          className="checkbox checkbox-sm mt-0.5"
          checked={trial.isPending ? trial.variables?.body.on_trial : row.on_trial}
          onChange={(event) => trial.mutate({ field: row.field, on_trial: event.target.checked })}
        />
        <span>
          This is what is compared
          <span className="block text-13 text-mute">
            A difference here is then expected, and no caveat.
          </span>
        </span>
      </label>
      {id && !reading && (
        <ActButton
          type="button"
          className="btn btn-xs mt-4"
          busy={remove.isPending}
          onClick={() => remove.mutate(id, { onSuccess: onClose })}
        >
          Remove the row
        </ActButton>
      )}
      <ProblemNote error={trial.error ?? rename.error ?? remove.error} />
    </SideNote>
  )
}

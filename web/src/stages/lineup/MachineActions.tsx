import { useArchiveMachine, useOrderMachines, useRetireMachine } from "../../api/changes"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { movedBy } from "./order"
import type { Machine } from "./specs"

/** Where a machine stands, and whether it is on the desk. */
export function MachineActions({
  slug,
  machine,
  ids,
  onArchived,
}: {
  slug: string
  machine: Machine
  /** Ids of all machines in their order. */
  ids: string[]
  onArchived: () => void
}) {
  const order = useOrderMachines(slug)
  const retire = useRetireMachine(slug)
  const archive = useArchiveMachine(slug)
  const at = ids.indexOf(machine.id)
  return (
    <div className="mt-2">
      <div className="flex flex-wrap gap-2">
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={order.isPending}
          needs={at === 0 && "It is the first."}
          onClick={() => order.mutate(movedBy(ids, machine.id, -1))}
        >
          Move left
        </ActButton>
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={order.isPending}
          needs={at === ids.length - 1 && "It is the last."}
          onClick={() => order.mutate(movedBy(ids, machine.id, 1))}
        >
          Move right
        </ActButton>
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={retire.isPending}
          onClick={() => retire.mutate({ id: machine.id, retired: machine.retired_at === null })}
        >
          {machine.retired_at === null ? "Stop testing it (its runs still count)" : "Test it again"}
        </ActButton>
        <ActButton
          type="button"
          className="btn btn-xs"
          busy={archive.isPending}
          title="Hides it and its runs; nothing is lost"
          onClick={() =>
            archive.mutate({ id: machine.id, archived: true }, { onSuccess: onArchived })
          }
        >
          Archive it (hides it and its runs)
        </ActButton>
      </div>
      {machine.retired_at !== null && (
        <p className="mt-1 text-13 text-mute">
          Retired: its runs stay in every figure, but no more are proposed.
        </p>
      )}
      <ProblemNote error={order.error ?? retire.error ?? archive.error} />
    </div>
  )
}

import { useArchiveMachine } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { Writes } from "../../parts/Reading"
import { count } from "../../theme/format"

/** Machines that were put away with their runs; they stand in no figure until they come back. */
export function Archived({
  slug,
  machines,
}: {
  slug: string
  machines: Schemas["ArchivedMachine"][]
}) {
  const archive = useArchiveMachine(slug)
  if (machines.length === 0) return null
  return (
    <section className="mt-6 max-w-2xl">
      <h2 className="mb-1 text-14">Archive</h2>
      <ul className="border-t border-line">
        {machines.map(({ id, name, runs }) => (
          <li key={id} className="flex items-center gap-3 border-b border-line py-1">
            <strong className="min-w-0 break-words">{name}</strong>
            <span className="flex-1 text-13 text-mute">with {count(runs, "run")}</span>
            <Writes>
              <ActButton
                type="button"
                className="btn btn-xs"
                busy={archive.isPending}
                onClick={() => archive.mutate({ id, archived: false })}
              >
                Restore
              </ActButton>
            </Writes>
          </li>
        ))}
      </ul>
    </section>
  )
}

import { useId, useState } from "react"
import { useCopyTask } from "../../api/tasks"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import type { Sheet } from "./job"

/** Makes the same task in another app: everything as it is here, but for its runs. */
export function InAnotherApp({
  slug,
  sheet,
  apps,
  onOpen,
}: {
  slug: string
  sheet: Sheet
  /** Apps that are known here. */
  apps: string[]
  onOpen: (taskId: string) => void
}) {
  const [open, setOpen] = useState(false)
  const [app, setApp] = useState("")
  const copy = useCopyTask(slug)
  const words = useId()
  const others = [...new Set(apps)].filter((each) => each !== sheet.task.app)
  if (!open) {
    return (
      <Writes>
        <button type="button" className="btn btn-sm mt-3" onClick={() => setOpen(true)}>
          The same in another app
        </button>
      </Writes>
    )
  }
  return (
    <form
      className="mt-3 flex flex-wrap items-end gap-2"
      onSubmit={(event) => {
        event.preventDefault()
        if (!app.trim()) return
        copy.mutate(
          { taskId: sheet.task.id, app: app.trim() },
          { onSuccess: (made) => onOpen(made.id) },
        )
      }}
    >
      <div className="w-52">
        <TextField
          label="The app"
          value={app}
          onText={setApp}
          list={words}
          maxLength={120}
          autoFocus
        />
      </div>
      <datalist id={words}>
        {others.map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        busy={copy.isPending}
        needs={!app.trim() && "Needs the name of an app."}
      >
        Make it
      </ActButton>
      <button type="button" className="btn btn-ghost btn-sm" onClick={() => setOpen(false)}>
        Cancel
      </button>
      <div className="w-full empty:hidden">
        <ProblemNote error={copy.error} />
      </div>
    </form>
  )
}

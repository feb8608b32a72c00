import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useAddViewer, useChangeViewer, useOrderViewers, useRetireViewer } from "../../api/picks"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"

const SMALL =
  "min-h-6 min-w-6 text-13 text-mute underline aria-disabled:no-underline aria-disabled:opacity-60"

type Ask = "new" | "copy" | "rename" | null

/** New, copy, rename, retire, and the place among the others. */
export function ViewerActions({
  slug,
  cards,
  viewer,
  onOpen,
}: {
  slug: string
  cards: Schemas["ViewerCard"][]
  viewer: Schemas["Viewer"] | null
  onOpen: (id: string) => void
}) {
  const [ask, setAsk] = useState<Ask>(null)
  const [name, setName] = useState("")
  const add = useAddViewer(slug)
  const change = useChangeViewer(slug)
  const retire = useRetireViewer(slug)
  const order = useOrderViewers(slug)
  const active = cards.filter((card) => card.viewer.retired_at === null).map((c) => c.viewer.id)
  const at = viewer === null ? -1 : active.indexOf(viewer.id)
  const start = (what: Ask, first: string) => {
    setAsk(what)
    setName(first)
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const done = { onSuccess: () => setAsk(null) }
    if (ask === "rename" && viewer) {
      change.mutate({ id: viewer.id, body: { version: viewer.version, name } }, done)
      return
    }
    const body = ask === "copy" && viewer ? { name, copy_from: viewer.id } : { name }
    add.mutate(body, {
      onSuccess: (made) => {
        setAsk(null)
        onOpen(made.id)
      },
    })
  }
  const move = (by: number) => {
    const next = [...active]
    const [one] = next.splice(at, 1)
    if (one) next.splice(at + by, 0, one)
    order.mutate(next)
  }
  return (
    <div className="mt-1">
      <div className="flex flex-wrap gap-x-2 gap-y-1">
        <button type="button" className={SMALL} onClick={() => start("new", "")}>
          New
        </button>
        {viewer && (
          <>
            <OfOne
              viewer={viewer}
              onAsk={start}
              onRetire={() => retire.mutate({ id: viewer.id, retired: viewer.retired_at === null })}
            />
            <Moves first={at <= 0} last={at < 0 || at >= active.length - 1} onMove={move} />
          </>
        )}
      </div>
      {ask && (
        <NameForm
          name={name}
          words={ask === "rename" ? "Rename" : "Add viewer"}
          onName={setName}
          onSubmit={submit}
          onLeave={() => setAsk(null)}
        />
      )}
      <ProblemNote error={add.error ?? change.error ?? retire.error ?? order.error} />
    </div>
  )
}

/** Puts a viewer one place on. */
function Moves({
  first,
  last,
  onMove,
}: {
  first: boolean
  last: boolean
  onMove: (by: number) => void
}) {
  return (
    <span className="-mx-1 flex">
      <ActButton
        type="button"
        className={SMALL}
        aria-label="Move this viewer forward"
        needs={first && "It is the first."}
        onClick={() => onMove(-1)}
      >
        ←
      </ActButton>
      <ActButton
        type="button"
        className={SMALL}
        aria-label="Move this viewer back"
        needs={last && "It is the last."}
        onClick={() => onMove(1)}
      >
        →
      </ActButton>
    </span>
  )
}

function NameForm({
  name,
  words,
  onName,
  onSubmit,
  onLeave,
}: {
  name: string /** What the button says. */
  words: string
  onName: (name: string) => void
  onSubmit: (event: FormEvent) => void
  onLeave: () => void
}) {
  return (
    <form onSubmit={onSubmit} className="mt-2 flex gap-1.5">
      <input
        // biome-ignore lint/a11y/noAutofocus: the person has just asked for this field.
        autoFocus
        aria-label="Name of the viewer"
        className="input input-sm min-w-0 flex-1 bg-page"
        value={name}
        onChange={(event) => onName(event.target.value)}
      />
      <button type="submit" className="btn btn-sm btn-primary h-7">
        {words}
      </button>
      <button type="button" className="text-13 underline" onClick={onLeave}>
        Cancel
      </button>
    </form>
  )
}

/** What is done with the viewer that is open. */
function OfOne({
  viewer,
  onAsk,
  onRetire,
}: {
  viewer: Schemas["Viewer"]
  onAsk: (what: Ask, first: string) => void
  onRetire: () => void
}) {
  return (
    <>
      <button type="button" className={SMALL} onClick={() => onAsk("copy", `${viewer.name}, copy`)}>
        Copy
      </button>
      <button type="button" className={SMALL} onClick={() => onAsk("rename", viewer.name)}>
        Rename
      </button>
      <button type="button" className={SMALL} onClick={onRetire}>
        {viewer.retired_at === null ? "Retire" : "Restore"}
      </button>
    </>
  )
}

import { type FormEvent, useId } from "react"
import { useAddTask } from "../../api/changes"
import { problemOf, type Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { type Operation, useTaskDraft } from "./useTaskDraft"

const YIELDS = [
  { value: "time", words: "time (lower is better)" },
  { value: "amount", words: "a score or rate (higher is better)" },
]

/** Adds a task; app and timeline are made where they are new. */
export function AddTask({
  slug,
  sheets,
  onAdded,
  onClose,
}: {
  slug: string
  sheets: Schemas["TaskSheet"][]
  onAdded: (id: string) => void
  /** Left out where there is nothing to go back to. */
  onClose: (() => void) | undefined
}) {
  const { draft, set, words, bad, seconds, bodyOf, drop } = useTaskDraft(slug)
  const add = useAddTask(slug)
  const problem = problemOf(add.error)
  const ready = draft.name.trim() !== "" && draft.app.trim() !== ""
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (bad || !ready) return
    add.mutate(bodyOf(seconds), {
      onSuccess: (task) => {
        drop()
        onAdded(task.id)
      },
    })
  }
  return (
    <form onSubmit={submit} className="grid max-w-xl grid-cols-1 gap-3 sm:grid-cols-2">
      <div className="sm:col-span-2">
        <TextField
          label="Name of the task"
          value={draft.name}
          onText={(name) => set({ name })}
          maxLength={200}
          placeholder="Holiday film, export UHD"
          error={problem?.field === "name" ? problem.detail : null}
          autoFocus
        />
      </div>
      <OfferedText
        label="App"
        value={draft.app}
        known={sheets.map((sheet) => sheet.task.app)}
        onText={(app) => set({ app })}
      />
      <ChoiceField
        label="Operation"
        value={draft.operation}
        options={(words?.operations ?? []).map((each) => ({ value: each, words: each }))}
        onValue={(operation) => set({ operation: operation as Operation })}
      />
      <ChoiceField
        label="You measure"
        hint={draft.operation === "playback" ? "playback is watched, not timed" : null}
        disabled={draft.operation === "playback"}
        value={draft.measure}
        options={YIELDS}
        onValue={(measure) => set({ measure: measure === "amount" ? "amount" : "time" })}
      />
      <OfferedText
        label="Timeline, if any"
        value={draft.timeline}
        known={sheets.flatMap((sheet) => sheet.task.timeline ?? [])}
        onText={(timeline) => set({ timeline })}
      />
      <Amount draft={draft} bad={bad} set={set} />
      <ChoiceField
        label="Export settings like"
        hint="You can change all of this later"
        value={draft.preset}
        options={[
          { value: "", words: "none yet" },
          ...(words?.presets ?? []).map(({ name }) => ({ value: name, words: name })),
        ]}
        onValue={(preset) => set({ preset })}
      />
      <Buttons
        ready={ready}
        busy={add.isPending}
        onClose={
          onClose &&
          (() => {
            drop()
            onClose()
          })
        }
      />
      {problem?.field !== "name" && <ProblemNote error={add.error} />}
    </form>
  )
}

function Buttons({
  ready,
  busy,
  onClose,
}: {
  ready: boolean
  busy: boolean
  onClose: (() => void) | undefined
}) {
  return (
    <div className="flex gap-2 sm:col-span-2">
      <ActButton
        type="submit"
        className="btn btn-primary btn-sm"
        busy={busy}
        needs={!ready && "Needs a name and an app."}
      >
        Add task
      </ActButton>
      {onClose && (
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Cancel
        </button>
      )}
    </div>
  )
}

/** A line of text with what other tasks have there already. */
function OfferedText({
  label,
  value,
  known,
  onText,
}: {
  label: string
  value: string
  known: string[]
  onText: (text: string) => void
}) {
  const id = useId()
  return (
    <>
      <TextField label={label} value={value} onText={onText} list={id} maxLength={120} />
      <datalist id={id}>
        {[...new Set(known)].map((each) => (
          <option key={each} value={each} />
        ))}
      </datalist>
    </>
  )
}

/** How long the timeline is, or in what an amount is counted. */
function Amount({
  draft,
  bad,
  set,
}: Pick<ReturnType<typeof useTaskDraft>, "draft" | "bad" | "set">) {
  return draft.measure === "time" ? (
    <TextField
      label="Its length (optional)"
      value={draft.length}
      onText={(length) => set({ length })}
      placeholder="11:00"
      hint="so speed can be shown as × real time"
      error={bad ? "Type it like 11:00 or 660 s." : null}
    />
  ) : (
    <TextField
      label="Unit"
      value={draft.unit}
      onText={(unit) => set({ unit })}
      placeholder="points"
      maxLength={40}
    />
  )
}

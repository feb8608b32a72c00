import { useQuery } from "@tanstack/react-query"
import { useRetireCard } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { cardsQuery } from "../../api/picks"
import { tasksQuery } from "../../api/queries"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { CardSetups } from "./CardSetups"
import { KINDS } from "./NewCard"
import { useCardDraft } from "./useCardDraft"

/** What a card shows and says; every change is kept by itself. */
export function CardEditor({ slug, view }: { slug: string; view: Schemas["CardView"] }) {
  const draft = useCardDraft(slug, view)
  const retire = useRetireCard(slug)
  const about = KINDS.find((each) => each.kind === view.card.kind)?.about ?? null
  const own = (field: "title" | "subtitle" | "source") =>
    view.card[field] === null ? null : (
      <button type="button" className="underline" onClick={() => draft.ask({ [field]: null })}>
        As the data gives it
      </button>
    )
  return (
    <section aria-label="What the card shows" className="min-w-0 space-y-2">
      <p className="text-13 text-mute" aria-live="polite">
        {draft.unkept ? "not kept yet" : "kept"}
      </p>
      <ProblemNote error={draft.error ?? retire.error}>
        {draft.stale && <Clash draft={draft} />}
      </ProblemNote>
      {(about === "task" || about === "mix") && (
        <TaskOfCard slug={slug} view={view} about={about} draft={draft} />
      )}
      {about === "viewer" && <ViewerOfCard slug={slug} view={view} draft={draft} />}
      {!view.problem && (
        <>
          <TextField
            label="Title"
            hint={own("title")}
            maxLength={200}
            value={draft.words.title}
            onText={(text) => draft.ask({ title: text })}
          />
          <TextField
            label="Subtitle"
            hint={own("subtitle")}
            maxLength={300}
            value={draft.words.subtitle}
            onText={(text) => draft.ask({ subtitle: text })}
          />
          <TextField
            label="Source line"
            hint={own("source")}
            maxLength={300}
            value={draft.words.source}
            onText={(text) => draft.ask({ source: text })}
          />
          <TextField
            label="Seconds in the video"
            inputMode="decimal"
            value={draft.words.seconds}
            onText={(text) => draft.ask({ seconds: text })}
          />
          {view.setup_ids.length > 0 && (
            <CardSetups
              slug={slug}
              view={view}
              chosen={draft.setups}
              onChange={(setups) => draft.ask({ setups })}
            />
          )}
        </>
      )}
      <button
        type="button"
        className="text-13 text-mute underline"
        onClick={() =>
          retire.mutate({ id: view.card.id, version: view.card.version, retired: true })
        }
      >
        Retire card
      </button>
    </section>
  )
}

type Draft = ReturnType<typeof useCardDraft>

/** Which task the card is of. */
function TaskOfCard({
  slug,
  view,
  about,
  draft,
}: {
  slug: string
  view: Schemas["CardView"]
  about: "task" | "mix"
  draft: Draft
}) {
  const tasks = useQuery(tasksQuery(slug)).data ?? []
  const timed = tasks.map((sheet) => sheet.task).filter((task) => task.measure !== "observation")
  return (
    <label className="block text-13 text-mute">
      Task
      <select
        className="select select-sm mt-0.5 w-full bg-page text-base-content"
        value={draft.task ?? ""}
        onChange={(event) => draft.ask({ task_id: event.target.value || null })}
      >
        {(about === "mix" || view.card.task_id === null) && (
          <option value="">{about === "mix" ? "All tasks" : "Choose a task"}</option>
        )}
        {timed.map((task) => (
          <option key={task.id} value={task.id}>
            {task.name}
          </option>
        ))}
      </select>
    </label>
  )
}

/** Whose pick the card shows. */
function ViewerOfCard({
  slug,
  view,
  draft,
}: {
  slug: string
  view: Schemas["CardView"]
  draft: Draft
}) {
  const viewers = useQuery(cardsQuery(slug)).data ?? []
  return (
    <label className="block text-13 text-mute">
      Viewer
      <select
        className="select select-sm mt-0.5 w-full bg-page text-base-content"
        value={draft.viewer ?? ""}
        onChange={(event) => draft.ask({ viewer_id: event.target.value || null })}
      >
        {view.card.viewer_id === null && <option value="">Choose a viewer</option>}
        {viewers.map((each) => (
          <option key={each.viewer.id} value={each.viewer.id}>
            {each.viewer.name}
          </option>
        ))}
      </select>
    </label>
  )
}

/** Somebody else changed the card meanwhile: whose change stays? */
function Clash({ draft }: { draft: Draft }) {
  return (
    <span>
      {" "}
      <button type="button" className="underline" onClick={draft.keepMine}>
        Save mine
      </button>{" "}
      <button type="button" className="underline" onClick={draft.takeTheirs}>
        Use theirs
      </button>
    </span>
  )
}

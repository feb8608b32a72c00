import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { useAddCard } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { cardsQuery } from "../../api/picks"
import { tasksQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"

type Kind = Schemas["NewCard"]["kind"]

/** The kinds of cards, and what each is about. */
export const KINDS: { kind: Kind; words: string; about: "task" | "mix" | "viewer" | null }[] = [
  { kind: "bar", words: "Times on one task", about: "task" },
  { kind: "rule", words: "Speed compared with the baseline", about: "mix" },
  { kind: "price", words: "Price against speed", about: "viewer" },
  { kind: "pick", words: "Recommendation for a viewer", about: "viewer" },
  { kind: "spec", words: "Specs side by side", about: null },
  { kind: "progress", words: "Progress during a run", about: "task" },
  { kind: "race", words: "Race on one task", about: "task" },
  { kind: "worth", words: "Worth changing for a viewer", about: "viewer" },
  { kind: "versions", words: "What an update did", about: "mix" },
  { kind: "feel", words: "How editing felt", about: null },
  { kind: "correction", words: "Correction of what was published", about: "mix" },
]

/** Keeps another card; what it is about can be changed afterwards. */
export function NewCard({ slug, onOpen }: { slug: string; onOpen: (id: string) => void }) {
  const add = useAddCard(slug)
  const [kind, setKind] = useState<Kind>("bar")
  const tasks = useQuery(tasksQuery(slug)).data ?? []
  const viewers = useQuery(cardsQuery(slug)).data ?? []
  const about = KINDS.find((each) => each.kind === kind)?.about ?? null
  const task = tasks.find((sheet) => sheet.task.measure !== "observation")?.task.id ?? null
  const viewer = viewers.find((each) => each.viewer.retired_at === null)?.viewer.id ?? null
  const keep = () =>
    add.mutate(
      {
        kind,
        seconds: 6,
        ...(about === "task" ? { task_id: task } : {}),
        ...(about === "viewer" ? { viewer_id: viewer } : {}),
      },
      { onSuccess: (made) => onOpen(made.card.id) },
    )
  return (
    <div className="mt-3 border-t border-line pt-3">
      <label className="block text-13 text-mute">
        Another card
        <select
          className="select select-sm mt-0.5 w-full bg-page text-base-content"
          value={kind}
          onChange={(event) => setKind(event.target.value as Kind)}
        >
          {KINDS.map((each) => (
            <option key={each.kind} value={each.kind}>
              {each.words}
            </option>
          ))}
        </select>
      </label>
      <ActButton type="button" className="btn btn-sm mt-2 h-8" busy={add.isPending} onClick={keep}>
        Save card
      </ActButton>
      <ProblemNote error={add.error} />
    </div>
  )
}

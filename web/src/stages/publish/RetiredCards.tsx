import { useRetireCard } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"

/** Cards that were taken off the list; nothing of them is lost. */
export function RetiredCards({ slug, cards }: { slug: string; cards: Schemas["CardView"][] }) {
  const retire = useRetireCard(slug)
  if (cards.length === 0) return null
  return (
    <details className="mt-3 text-13">
      <summary className="text-mute underline">Retired cards: {cards.length}</summary>
      <ul className="mt-1">
        {cards.map((each) => (
          <li key={each.card.id} className="flex gap-2 border-t border-line py-1">
            <span className="min-w-0 flex-1 break-words">{each.title}</span>
            <Writes>
              <button
                type="button"
                className="underline"
                onClick={() =>
                  retire.mutate({ id: each.card.id, version: each.card.version, retired: false })
                }
              >
                Restore
              </button>
            </Writes>
          </li>
        ))}
      </ul>
      <ProblemNote error={retire.error} />
    </details>
  )
}

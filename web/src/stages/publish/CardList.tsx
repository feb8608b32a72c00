import { useOrderCards } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"

/** The kept cards in their order, which is that of the timeline. */
export function CardList({
  slug,
  cards,
  current,
  onOpen,
}: {
  slug: string
  cards: Schemas["CardView"][]
  current: string | undefined
  onOpen: (id: string) => void
}) {
  const order = useOrderCards(slug)
  const move = (at: number, by: number) => {
    const ids = cards.map((each) => each.card.id)
    const [one] = ids.splice(at, 1)
    if (one) ids.splice(at + by, 0, one)
    order.mutate(ids)
  }
  return (
    <section aria-label="Kept cards">
      <ol className="text-13">
        {cards.map((each, at) => (
          <li key={each.card.id} className="flex gap-1 border-t border-line py-1">
            <button
              type="button"
              aria-current={each.card.id === current ? "true" : undefined}
              className={`min-h-9 min-w-0 flex-1 text-left ${
                each.card.id === current ? "font-bold" : ""
              }`}
              onClick={() => onOpen(each.card.id)}
            >
              <span className="block break-words">{each.title}</span>
              <span className={`block text-12 ${each.problem ? "text-accent" : "text-mute"}`}>
                {each.card.kind} card{each.problem ? ": shows nothing" : ""}
              </span>
            </button>
            <Writes>
              <ActButton
                type="button"
                className="w-7 text-mute disabled:opacity-40"
                aria-label={`Move ${each.title} up`}
                needs={at === 0 && "It is the first."}
                onClick={() => move(at, -1)}
              >
                ↑
              </ActButton>

              <ActButton
                type="button"
                className="w-7 text-mute disabled:opacity-40"
                aria-label={`Move ${each.title} down`}
                needs={at === cards.length - 1 && "It is the last."}
                onClick={() => move(at, 1)}
              >
                ↓
              </ActButton>
            </Writes>
          </li>
        ))}
      </ol>
      <ProblemNote error={order.error} />
    </section>
  )
}

import { useQuery } from "@tanstack/react-query"
import { useNavigate } from "@tanstack/react-router"
import { useState } from "react"
import { keptCardsQuery } from "../../api/cards"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { CardEditor } from "./CardEditor"
import { CardList } from "./CardList"
import { CardPicture } from "./CardPicture"
import { NewCard } from "./NewCard"
import { RetiredCards } from "./RetiredCards"

/** Kept cards: the list, one as it is exported, and what it shows. */
export function Cards({ slug, chosen }: { slug: string; chosen: string | undefined }) {
  const cards = useQuery(keptCardsQuery(slug))
  const navigate = useNavigate({ from: "/s/$slug/publish" })
  const [shape, setShape] = useState("wide")
  const [look, setLook] = useState("day")
  const open = (id: string) => void navigate({ search: { view: "cards", card: id } })
  if (cards.error) return <ProblemNote error={cards.error} />
  if (!cards.data) return <p>Loading…</p>
  const standing = cards.data.filter((each) => each.card.retired_at === null)
  const view = standing.find((each) => each.card.id === chosen) ?? standing[0]
  return (
    <div className="cards">
      <div className="min-w-0">
        <CardList slug={slug} cards={standing} current={view?.card.id} onOpen={open} />
        <Writes>
          <NewCard slug={slug} onOpen={open} />
        </Writes>
        <RetiredCards
          slug={slug}
          cards={cards.data.filter((each) => each.card.retired_at !== null)}
        />
      </div>
      {view ? (
        <>
          <CardPicture
            slug={slug}
            view={view}
            shape={shape}
            look={look}
            onShape={setShape}
            onLook={setLook}
          />
          <Writes>
            <CardEditor key={view.card.id} slug={slug} view={view} />
          </Writes>
        </>
      ) : (
        <p className="max-w-xl text-13 text-mute">
          No card yet. A card is drawn from the runs each time, so it is never out of date.
        </p>
      )}
    </div>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { shotsQuery } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { ProblemNote } from "../../parts/ProblemNote"
import { clock, count } from "../../theme/format"

const BY: Record<Schemas["ShotList"]["by"], string> = {
  captions: "Times are those of the captions in the script.",
  words: "Times are reckoned from the words of the script, 150 a minute.",
  order: "No line of the script speaks of a card yet: they stand one after the other.",
}

/** Which card stands when, beside which line, and what was kept as proof. */
export function Shots({ slug }: { slug: string }) {
  const { data: list, error } = useQuery(shotsQuery(slug))
  if (error) return <ProblemNote error={error} />
  if (!list) return <p>Loading…</p>
  if (list.shots.length === 0) {
    return (
      <p className="max-w-xl text-13 text-mute">
        No card shows anything yet: save one under Cards, and it stands here beside the line of the
        script that speaks of it.
      </p>
    )
  }
  return (
    <>
      <p className="text-14">
        {count(list.shots.length, "card")} in {clock(list.length_s)}.{" "}
        <span className="text-mute">{BY[list.by]}</span>
      </p>
      <ol className="mt-3 max-w-4xl" aria-label="Shot list">
        {list.shots.map((shot) => (
          <Shot key={`${shot.card_id} ${shot.at_s}`} slug={slug} shot={shot} />
        ))}
      </ol>
      {list.empty.length > 0 && (
        <p className="mt-3 text-13 text-mute">
          Not in it, they show nothing: {list.empty.join(", ")}.
        </p>
      )}
      <p className="mt-3 text-13 text-mute">
        The same as a timeline, a cut list and chapters:{" "}
        <Link
          className="underline"
          to="/s/$slug/publish"
          params={{ slug }}
          search={{ view: "give" }}
        >
          Downloads
        </Link>
        .
      </p>
    </>
  )
}

function Shot({ slug, shot }: { slug: string; shot: Schemas["Shot"] }) {
  return (
    <li className="shot border-t border-line py-2 text-13">
      <span className="figure text-15 font-bold">{clock(shot.at_s)}</span>
      <img
        src={`/api/v1/shootouts/${slug}/cards/${shot.card_id}/wide-night.svg`}
        alt=""
        width={192}
        height={108}
        loading="lazy"
        className="border border-line"
      />
      <div className="min-w-0">
        <p className="text-15">{shot.say || shot.title}</p>
        <p className="text-mute">
          <Link
            className="underline"
            to="/s/$slug/publish"
            params={{ slug }}
            search={{ view: "cards", card: shot.card_id }}
          >
            {shot.kind} card, {shot.title}
          </Link>
          , {clock(shot.seconds)} on screen
          {shot.line === null ? " · not in the script yet" : ` · script, line ${shot.line}`}
        </p>
        {shot.proofs.length > 0 && (
          <p className="text-mute">
            Proof:{" "}
            {shot.proofs.map((proof, at) => (
              <span key={proof.picture_id}>
                {at > 0 && ", "}
                <a
                  className="underline"
                  href={`/api/v1/pictures/${proof.picture_id}`}
                  target="_blank"
                  rel="noreferrer"
                >
                  {proof.name}
                </a>
              </span>
            ))}
          </p>
        )}
      </div>
    </li>
  )
}

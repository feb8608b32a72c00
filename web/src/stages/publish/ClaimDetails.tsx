import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { labelOf, VERDICT } from "../../api/labels"
import { useAnswerSentence } from "../../api/publish"
import { Writes } from "../../parts/Reading"
import { ReadingChips } from "./ReadingChips"

export type Claim = Schemas["CheckedLine"]

/** One line that says how it was read, where a person may still disagree. */
export function restsOn(claim: Claim): string {
  if (claim.confirmed) return "As you confirmed it"
  const caveat = claim.behind.find((each) => each.startsWith("caveat"))
  return caveat ? `Why, and ${caveat}` : "Why"
}

/** Runs, what confounds the pair, and the way to its details. */
export function Behind({ slug, claim }: { slug: string; claim: Claim }) {
  if (claim.behind.length === 0) return null
  return (
    <p>
      {claim.behind.join(" · ")}
      {claim.a && claim.b && claim.task && (
        <>
          {" · "}
          <Link
            to="/s/$slug/margins"
            params={{ slug }}
            search={{ task: claim.task, a: claim.a, b: claim.b }}
            className="underline"
          >
            details
          </Link>
        </>
      )}
    </p>
  )
}

/** What holds of the models, of which these machines are samples. */
export function OfModels({ own }: { own: Schemas["ModelVerdict"] }) {
  if (own.same)
    return (
      <p className="text-mute">of the models too: {own.figure ?? labelOf(VERDICT, own.shown)}</p>
    )
  return (
    <p>
      of the models: <strong>{labelOf(VERDICT, own.shown)}</strong>
      {own.figure && <span className="ml-2">{own.figure}</span>}
      {own.say && own.verdict !== "holds" && (
        <span className="block text-mute">Of the models, say: {own.say}</span>
      )}
    </p>
  )
}

/** The reading of a judged line, and the way to say that it means something else. */
export function ReadAs({ slug, claim }: { slug: string; claim: Claim }) {
  const answer = useAnswerSentence(slug)
  return (
    <div className="text-mute">
      {claim.confirmed ? "You said that it means: " : "Read as: "}
      {claim.readings.map((each) => each.words).join(" ")}{" "}
      <Writes>
        {claim.confirmed ? (
          <button
            type="button"
            className="underline"
            onClick={() => answer.mutate({ key: claim.key, text: claim.text, claims: null })}
          >
            Undo
          </button>
        ) : (
          <SayWhatItMeans slug={slug} claim={claim} label="It means something else" />
        )}
      </Writes>
    </div>
  )
}

/** A button that opens the parts of a claim. */
export function SayWhatItMeans({
  slug,
  claim,
  label,
}: {
  slug: string
  claim: Claim
  label: string
}) {
  const [open, setOpen] = useState(false)
  if (!open) {
    return (
      <button type="button" className="underline" onClick={() => setOpen(true)}>
        {label}
      </button>
    )
  }
  return <ReadingChips slug={slug} claim={claim} onDone={() => setOpen(false)} />
}

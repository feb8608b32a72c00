import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { labelOf, VERDICT } from "../../api/labels"
import { useAnswerSentence } from "../../api/publish"
import { Writes } from "../../parts/Reading"
import { ReadingChips } from "./ReadingChips"
import { fateOf, wordOf } from "./verdicts"

type Claim = Schemas["CheckedLine"]

/** What needs a person first, each with the line to say instead; what holds is folded. */
export function ClaimList({
  slug,
  claims,
  onSay,
}: {
  slug: string
  claims: Claim[]
  /** Puts the offered line in the place of the claim. */
  onSay: (claim: Claim) => void
}) {
  if (claims.length === 0) {
    return (
      <p className="text-13 text-mute">
        No line compares anything yet. For example: one machine is twice as fast as another on a
        task.
      </p>
    )
  }
  const settled = claims.filter((claim) => fateOf(claim) === "holds" && !hasMoved(claim))
  const open = claims.filter((claim) => !settled.includes(claim))
  return (
    <div className="text-13">
      <ol>
        {open.map((claim, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a sentence may stand twice on a line.
          <OneClaim key={`${claim.line} ${claim.key} ${at}`} {...{ slug, claim, onSay }} />
        ))}
      </ol>
      {settled.length > 0 && (
        <details className="border-t border-line py-1.5" open={open.length === 0 || undefined}>
          <summary className="cursor-pointer text-mute">
            {settled.length === 1 ? "1 line holds" : `${settled.length} lines hold`}
          </summary>
          <ol>
            {settled.map((claim, at) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a sentence may stand twice on a line.
              <OneClaim key={`${claim.line} ${claim.key} ${at}`} {...{ slug, claim, onSay }} />
            ))}
          </ol>
        </details>
      )}
    </div>
  )
}

function hasMoved(claim: Claim): boolean {
  return claim.was !== null || claim.was_figure !== null
}

function OneClaim({
  slug,
  claim,
  onSay,
}: {
  slug: string
  claim: Claim
  onSay: (claim: Claim) => void
}) {
  const fate = fateOf(claim)
  return (
    <li className="border-t border-line py-2">
      <ClaimHead claim={claim} />
      <p className={fate === "fix" ? "my-0.5 text-mute line-through" : "my-0.5"}>{claim.text}</p>
      {fate === "confirm" && (
        <>
          <p className="text-mute">Is this what you mean? Change any part.</p>
          <Writes>
            <ReadingChips key={claim.key} slug={slug} claim={claim} />
          </Writes>
          {claim.reason && <p className="mt-1 text-mute">{claim.reason}</p>}
        </>
      )}
      {fate === "not understood" && (
        <>
          <p className="text-mute">{claim.reason}</p>
          <Writes>
            <SayWhatItMeans slug={slug} claim={claim} label="Say what it means" />
          </Writes>
        </>
      )}
      {(fate === "holds" || fate === "fix") && <Judged {...{ slug, claim, onSay }} />}
    </li>
  )
}

/** Which line it is, what it comes out as, and the figure. */
function ClaimHead({ claim }: { claim: Claim }) {
  return (
    <p>
      <span className="figure mr-2 text-mute">line {claim.line}</span>
      <strong className={fateOf(claim) === "holds" ? "" : "text-accent"}>{wordOf(claim)}</strong>
      {claim.was && <span className="text-accent"> (was: {labelOf(VERDICT, claim.was)})</span>}
      {claim.was_figure && (
        <span className="text-accent"> (the figure was {claim.was_figure})</span>
      )}
      {claim.figure && <span className="ml-2">measured: {claim.figure}</span>}
    </p>
  )
}

/** The line to say instead, why, what it was read as, and what it rests on. */
function Judged({
  slug,
  claim,
  onSay,
}: {
  slug: string
  claim: Claim
  onSay: (claim: Claim) => void
}) {
  return (
    <>
      {claim.say && claim.verdict !== "holds" && (
        <p className="font-bold">
          {claim.say}{" "}
          <Writes>
            <button type="button" className="font-normal underline" onClick={() => onSay(claim)}>
              Use this line
            </button>
          </Writes>
        </p>
      )}
      {claim.reason && <p className="text-mute">{claim.reason}</p>}
      {claim.models && !claim.models.same && <OfModels own={claim.models} />}
      <details className="text-mute">
        <summary className="cursor-pointer">{restsOn(claim)}</summary>
        {claim.models?.same && <OfModels own={claim.models} />}
        <Behind slug={slug} claim={claim} />
        {claim.readings.length > 0 && <ReadAs slug={slug} claim={claim} />}
      </details>
    </>
  )
}

/** One line that says how it was read, where a person may still disagree. */
function restsOn(claim: Claim): string {
  if (claim.confirmed) return "As you confirmed it"
  const caveat = claim.behind.find((each) => each.startsWith("caveat"))
  return caveat ? `Why, and ${caveat}` : "Why"
}

/** Runs, what confounds the pair, and the way to its details. */
function Behind({ slug, claim }: { slug: string; claim: Claim }) {
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
function OfModels({ own }: { own: Schemas["ModelVerdict"] }) {
  if (own.same)
    return (
      <p className="text-mute">of the models too: {own.figure ?? labelOf(VERDICT, own.verdict)}</p>
    )
  return (
    <p>
      of the models: <strong>{labelOf(VERDICT, own.verdict)}</strong>
      {own.figure && <span className="ml-2">{own.figure}</span>}
      {own.say && own.verdict !== "holds" && (
        <span className="block text-mute">Of the models, say: {own.say}</span>
      )}
    </p>
  )
}

/** The reading of a judged line, and the way to say that it means something else. */
function ReadAs({ slug, claim }: { slug: string; claim: Claim }) {
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
function SayWhatItMeans({ slug, claim, label }: { slug: string; claim: Claim; label: string }) {
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

import { labelOf, VERDICT } from "../../api/labels"
import { Writes } from "../../parts/Reading"
import { Behind, type Claim, OfModels, ReadAs, restsOn, SayWhatItMeans } from "./ClaimDetails"
import { ReadingChips } from "./ReadingChips"
import { fateOf, wordOf } from "./verdicts"

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

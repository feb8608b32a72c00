import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { labelOf, VERDICT } from "../../api/labels"
import { Writes } from "../../parts/Reading"
import { stands } from "./verdicts"

/** Every claim with its verdict, the figure, what lies behind it, and a line to say instead. */
export function ClaimList({
  slug,
  claims,
  onSay,
}: {
  slug: string
  claims: Schemas["CheckedLine"][]
  /** Puts the offered line in the place of the claim. */
  onSay: (claim: Schemas["CheckedLine"]) => void
}) {
  if (claims.length === 0) {
    return (
      <p className="text-[13px] text-mute">
        No line compares anything yet. For example: one machine is twice as fast as another on a
        task.
      </p>
    )
  }
  return (
    <ol className="text-[13px]">
      {claims.map((claim, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: a sentence may stand twice.
        <li key={`${claim.line} ${at}`} className="border-t border-line py-1.5">
          {claim.verdict === "holds" && !claim.was ? (
            <details className="text-mute">
              <summary className="cursor-pointer">
                <ClaimHead claim={claim} />
              </summary>
              <ClaimBody slug={slug} claim={claim} onSay={onSay} />
            </details>
          ) : (
            <>
              <ClaimHead claim={claim} />
              <ClaimBody slug={slug} claim={claim} onSay={onSay} />
            </>
          )}
        </li>
      ))}
    </ol>
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

type Claim = Schemas["CheckedLine"]

/** Which line it is, what it comes out as, and the figure. */
function ClaimHead({ claim }: { claim: Claim }) {
  return (
    <span>
      <span className="figure mr-2 text-mute">line {claim.line}</span>
      <strong className={stands(claim.verdict) ? "" : "text-accent"}>
        {labelOf(VERDICT, claim.verdict)}
      </strong>
      {claim.was && <span className="text-accent"> (was: {labelOf(VERDICT, claim.was)})</span>}
      {claim.figure && <span className="ml-2">measured: {claim.figure}</span>}
    </span>
  )
}

/** Why, what it is of models, what it rests on, and the line to say instead. */
function ClaimBody({
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
      {claim.reason && <p className="text-mute">{claim.reason}</p>}
      {claim.models && <OfModels own={claim.models} />}
      {claim.behind.length > 0 && (
        <p className="text-mute">
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
      )}
      {claim.say && claim.verdict !== "holds" && (
        <p className="mt-1 border-l-2 border-line pl-2">
          Say: {claim.say}{" "}
          <Writes>
            <button type="button" className="underline" onClick={() => onSay(claim)}>
              Use this line
            </button>
          </Writes>
        </p>
      )}
    </>
  )
}

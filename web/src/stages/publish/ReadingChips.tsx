import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { SAYINGS } from "../../api/labels"
import { useAnswerSentence } from "../../api/publish"
import { lineupQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { CHIP, type Code, Figure, type Said, Saying, Setup, Task } from "./ChipFields"

type Claim = Schemas["CheckedLine"]

const HEDGES = ["none", "about", "almost", "over", "under", "up to"] as const

/**
 * What a sentence was taken to say, in parts that can each be changed; yes, or not a claim.
 *
 * Enter says yes, the arrows change the part that is in focus.
 */
export function ReadingChips({
  slug,
  claim,
  onDone,
}: {
  slug: string
  claim: Claim
  onDone?: () => void
}) {
  const answer = useAnswerSentence(slug)
  const [said, setSaid] = useState<Said[]>(() => partsOf(claim))
  const change = (at: number, part: Partial<Said>) =>
    setSaid(said.map((each, place) => (place === at ? { ...each, ...part } : each)))
  const send = (claims: Said[]) =>
    answer.mutate({ key: claim.key, text: claim.text, claims }, { onSuccess: () => onDone?.() })
  const yes = (event: FormEvent) => {
    event.preventDefault()
    send(said.map(trimmed))
  }
  return (
    <form onSubmit={yes} aria-label={`What line ${claim.line} says`}>
      {said.map((each, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: rows are neither added nor moved.
        <Row key={at} slug={slug} said={each} onChange={(part) => change(at, part)} />
      ))}
      <div className="mt-1.5 flex flex-wrap gap-2">
        <ActButton type="submit" className="btn btn-sm btn-neutral h-8" busy={answer.isPending}>
          Yes, check it
        </ActButton>
        <ActButton
          type="button"
          className="btn btn-sm h-8"
          busy={answer.isPending}
          onClick={() => send([])}
        >
          Not a claim
        </ActButton>
      </div>
      <ProblemNote error={answer.error} />
    </form>
  )
}

/** One claim: who, what, how much, compared with whom, on which task. */
function Row({
  slug,
  said,
  onChange,
}: {
  slug: string
  said: Said
  onChange: (part: Partial<Said>) => void
}) {
  const setups = useQuery(lineupQuery(slug)).data?.setups ?? []
  const saying = SAYINGS[said.says as Code]
  const counted = said.says === "wins"
  return (
    <div className="my-1 flex flex-wrap items-center gap-1.5 text-13">
      <Setup label="Machine" value={said.a} setups={setups} onChange={(a) => onChange({ a })} />
      <Saying said={said} onChange={onChange} />
      {saying.numbered && (
        <>
          <select
            aria-label="How firmly"
            className={CHIP}
            value={said.hedge}
            onChange={(event) => onChange({ hedge: event.target.value as Said["hedge"] })}
          >
            {HEDGES.map((each) => (
              <option key={each} value={each}>
                {each === "none" ? "just" : each}
              </option>
            ))}
          </select>
          <Figure label="Number" value={said.number} onChange={(number) => onChange({ number })} />
        </>
      )}
      {saying.numbered && (counted || said.high) && (
        <>
          <span>{counted ? "of" : "to"}</span>
          <Figure
            label={counted ? "Out of" : "Up to"}
            value={said.high}
            onChange={(high) => onChange({ high })}
          />
        </>
      )}
      {saying.paired && (
        <Setup
          label="Compared with"
          value={said.b}
          setups={setups}
          onChange={(b) => onChange({ b })}
        />
      )}
      {!saying.ofAll && <Task slug={slug} said={said} onChange={onChange} />}
    </div>
  )
}

const EMPTY: Said = {
  says: "faster",
  a: null,
  b: null,
  task: null,
  number: null,
  high: null,
  hedge: "none",
  denied: false,
}

/** The parts to begin with: what was read, else an empty claim to be filled in. */
function partsOf(claim: Claim): Said[] {
  if (claim.readings.length === 0) {
    return [EMPTY]
  }
  return claim.readings.map(({ words: _, ...parts }) => parts)
}

/** Without the parts that what is said has no room for. */
function trimmed(said: Said): Said {
  const saying = SAYINGS[said.says as Code]
  return {
    ...said,
    b: saying.paired || said.says === "wins" ? said.b : null,
    task: saying.ofAll ? null : said.task,
    number: saying.numbered ? said.number : null,
    high: saying.numbered && said.high ? said.high : null,
    hedge: saying.numbered ? said.hedge : "none",
  }
}

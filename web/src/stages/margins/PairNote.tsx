import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { pairQuery, shootoutQuery } from "../../api/queries"
import { ProblemNote } from "../../parts/ProblemNote"
import { Jaws } from "../../parts/rule/Jaws"
import { RuleAxis, RuleBand } from "../../parts/rule/RuleAxis"
import { fitScale } from "../../parts/rule/scale"
import { NotePart, SideNote } from "../../parts/SideNote"
import { percent, plain, ratio, seconds } from "../../theme/format"
import { FairTest } from "./FairTest"
import { NotedRatios } from "./NotedRatios"
import { PairRuns } from "./PairRuns"
import { Published } from "./Published"

/** One pair in every way that it can be said, with what stands behind it. */
export function PairNote({
  slug,
  task,
  a,
  b,
  onClose,
}: {
  slug: string
  /** Id of a task, or "mix". */
  task: string
  a: string
  b: string
  onClose: () => void
}) {
  const { data: pair, error } = useQuery(pairQuery(slug, task, a, b))
  const shootout = useQuery(shootoutQuery(slug)).data
  return (
    <SideNote
      title={pair ? `${pair.a} compared with ${pair.b}` : "Pair"}
      about={`${a} ${b}`}
      onClose={onClose}
    >
      <ProblemNote error={error} />
      {pair && (
        <>
          <p className="font-head text-18 leading-6 font-bold">{pair.sentence}</p>
          {pair.proof && <p className="mt-1 text-13 text-mute">{pair.proof}</p>}
          {pair.lo !== null && pair.hi !== null && pair.ratio !== null && shootout && (
            <PairRule pair={pair} materiality={shootout.materiality} />
          )}
          {pair.ways.length > 0 && shootout && (
            <Ways pair={pair} confidence={shootout.confidence} />
          )}
          {pair.behind.length > 0 && (
            <NotePart title="Based on">
              <ul>
                {pair.behind.map((line) => (
                  <li key={line}>{line}</li>
                ))}
                {pair.handicap !== null && (
                  <li>
                    Safe against hidden differences: only an unnoticed handicap of more than{" "}
                    {percent(pair.handicap, pair.handicap < 0.1 ? 1 : 0)} would change this.
                  </li>
                )}
              </ul>
            </NotePart>
          )}
          {pair.inquiries.map((view) => (
            <p key={view.inquiry.id} className="mt-3 border-l-2 border-accent pl-2 text-13">
              {view.line}
            </p>
          ))}
          <FairTest slug={slug} pair={pair} />
          {pair.seen.length > 0 && (
            <NotePart title="What was seen besides times">
              <ul className="space-y-1 text-13">
                {pair.seen.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
              <Link
                to="/s/$slug/bench"
                params={{ slug }}
                search={{ view: "log" }}
                className="text-13 underline"
              >
                Editing log
              </Link>
            </NotePart>
          )}
          <NotedRatios slug={slug} pair={pair} />
          <Published slug={slug} pair={pair} />
          {pair.fixed_cost.length > 0 && (
            <NotePart title="Start-up and rate">
              <ul className="space-y-1 text-13">
                {pair.fixed_cost.map((line) => (
                  <li key={`${line.setup} ${line.tasks}`}>
                    <strong>{line.setup}</strong>: {line.words}, from {line.tasks}
                  </li>
                ))}
              </ul>
            </NotePart>
          )}
          {pair.settle && (
            <NotePart title="To settle it">
              <p>{pair.settle}</p>
            </NotePart>
          )}
          {pair.runs.length > 0 && <PairRuns slug={slug} pair={pair} />}
          {pair.formula.length > 0 && (
            <details className="mt-5">
              <summary className="font-head font-bold">How it was computed</summary>
              <ul className="mt-1 space-y-1 text-13 text-mute">
                {pair.formula.map((line) => (
                  <li key={line}>{line}</li>
                ))}
              </ul>
            </details>
          )}
        </>
      )}
    </SideNote>
  )
}

function PairRule({ pair, materiality }: { pair: Schemas["PairView"]; materiality: number }) {
  const { lo, hi, ratio: estimate } = pair
  if (lo === null || hi === null || estimate === null) return null
  const scale = fitScale([lo, hi, 1 + materiality, 1 / (1 + materiality)], 5)
  return (
    <div className="mt-3 px-3">
      <div className="relative h-9">
        <RuleBand scale={scale} materiality={materiality} />
        <Jaws
          scale={scale}
          lo={lo}
          hi={hi}
          estimate={estimate}
          call={pair.call}
          materiality={materiality}
          label={pair.sentence}
        />
      </div>
      <RuleAxis scale={scale} below />
    </div>
  )
}

function Ways({ pair, confidence }: { pair: Schemas["PairView"]; confidence: number }) {
  return (
    <table className="mt-2 w-full border-collapse text-13">
      <thead>
        <tr className="text-mute">
          <th scope="col" className="py-1 text-left font-normal">
            Ways to say it
          </th>
          <th scope="col" className="text-right font-normal">
            estimate
          </th>
          <th scope="col" className="text-right font-normal">
            {percent(confidence)} interval
          </th>
        </tr>
      </thead>
      <tbody>
        {pair.ways.map((way) => (
          <tr key={way.title} className="border-t border-line">
            <td className="py-1 pr-1">{way.title}</td>
            <td className="figure text-right font-bold whitespace-nowrap">
              {wayValue(way.value, way.unit)}
            </td>
            <td className="figure pl-2 text-right whitespace-nowrap">
              {wayValue(way.lo, way.unit, true)} to {wayValue(way.hi, way.unit, true)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

function wayValue(value: number, unit: string, bare = false): string {
  if (unit === "x") return ratio(value)
  if (unit === "s") return bare ? seconds(value).replace(/ s$/, "") : seconds(value)
  return bare ? plain(value) : `${plain(value)} ${unit}`
}

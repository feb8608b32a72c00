import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { updatesQuery, useMergeRounds } from "../../api/margins"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { bandOf, RuleHead, RuleRow } from "../../parts/rule/RuleRow"
import { fitScale } from "../../parts/rule/scale"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { count, ratio } from "../../theme/format"
import { Earlier } from "./Earlier"

/** What each update did, the machines that tie rounds together, and how well they agree. */
export function Updates({ slug }: { slug: string }) {
  const { data, error } = useQuery(updatesQuery(slug))
  const merge = useMergeRounds(slug)
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Loading…</p>
  return (
    <div className="max-w-4xl space-y-6">
      <section aria-label="Rounds">
        <RoundTable rounds={data.rounds} />
        {data.merge && (
          <p className="mt-2">
            {data.merge.words}{" "}
            <Writes>
              <ActButton
                type="button"
                className="btn btn-xs"
                busy={merge.isPending}
                onClick={() =>
                  data.merge &&
                  merge.mutate({ from_id: data.merge.from_id, into_id: data.merge.into_id })
                }
              >
                Make them one round
              </ActButton>
            </Writes>
          </p>
        )}
        <ProblemNote error={merge.error} />
      </section>
      {data.updates.length === 0 ? (
        <p className="max-w-2xl">
          Only one round so far. After an app update, start a new round and run one machine again:
          that shows what the update did.
        </p>
      ) : (
        data.updates.map((update) => (
          <Update
            key={`${update.app} ${update.round}`}
            slug={slug}
            update={update}
            materiality={data.materiality}
          />
        ))
      )}
      {(data.misfit || data.uneven) && (
        <section aria-label="How well they agree" className="max-w-2xl space-y-1">
          {data.misfit && <p>{data.misfit}</p>}
          {data.uneven && <p className="text-mute">{data.uneven}</p>}
        </section>
      )}
      {data.carried.length > 0 && (
        <section aria-label="Estimated" className="max-w-2xl">
          <h2 className="mb-1 text-14">Estimated from an earlier round ↻</h2>
          <ul>
            {data.carried.map((line) => (
              <li key={line}>{line}</li>
            ))}
          </ul>
        </section>
      )}
      <Writes>
        <Earlier slug={slug} />
      </Writes>
    </div>
  )
}

function Update({
  slug,
  update,
  materiality,
}: {
  slug: string
  update: Schemas["UpdateRow"]
  materiality: number
}) {
  const placeOf = useSetupPlaces(slug)
  const rows = [update, ...update.bridges]
  const scale = fitScale([...bandOf(materiality), ...rows.flatMap((row) => [row.lo, row.hi])])
  return (
    <section aria-label={`${update.app} since ${update.round}`}>
      <h2 className="mb-1 text-15">{update.sentence}</h2>
      <RuleHead scale={scale} value="since then" />
      <RuleRow
        scale={scale}
        row={update}
        call={update.call}
        materiality={materiality}
        label={update.sentence}
      >
        <strong>all together</strong>
      </RuleRow>
      {update.bridges.map((bridge) => (
        <RuleRow
          key={bridge.setup_id}
          scale={scale}
          row={bridge}
          call="open"
          materiality={materiality}
          label={`${bridge.label}: ${ratio(bridge.ratio)} times as fast since then, ${ratio(bridge.lo)} to ${ratio(bridge.hi)}`}
        >
          <SetupMark index={placeOf(bridge.setup_id)} size={12} />
          <span className="min-w-0 break-words">{bridge.label}</span>
          {bridge.off && (
            <span className="text-12 text-accent">
              gained {bridge.ratio > update.ratio ? "more" : "less"} than the rest
            </span>
          )}
        </RuleRow>
      ))}
      <p className="mt-1 text-13 text-mute">
        {count(update.bridges.length, "machine")} tested before and after. Bars: ± 2 standard
        errors. Further right: faster after the update.
      </p>
    </section>
  )
}

/** Rounds with their versions and how much was run in each. */
function RoundTable({ rounds }: { rounds: Schemas["RoundLine"][] }) {
  return (
    <table className="w-full border-collapse text-13">
      <thead>
        <tr className="text-left text-mute">
          <th scope="col" className="py-1 font-normal">
            round, oldest first
          </th>
          <th scope="col" className="font-normal">
            app versions
          </th>
          <th scope="col" className="pl-3 text-right font-normal">
            setups
          </th>
          <th scope="col" className="pl-3 text-right font-normal">
            runs
          </th>
        </tr>
      </thead>
      <tbody>
        {rounds.map((round) => (
          <tr key={round.name} className="border-t border-line">
            <td className="py-1 pr-3 font-bold">
              {round.name}
              {round.brought_from && <span className="font-normal text-mute"> · imported</span>}
            </td>
            <td className="pr-3">{round.versions || "not noted"}</td>
            <td className="figure text-right">{round.setups}</td>
            <td className="figure text-right">{round.runs}</td>
          </tr>
        ))}
      </tbody>
    </table>
  )
}

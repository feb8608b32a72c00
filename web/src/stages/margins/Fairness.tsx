import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { fairnessQuery } from "../../api/margins"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"
import { FairMatrix } from "./FairMatrix"

/** What differed besides speed: what breaks first, then what may move a time, then the rest. */
export function Fairness({
  slug,
  task,
  onPair,
}: {
  slug: string
  task: string
  onPair: (a: string, b: string, task: string) => void
}) {
  const { data, error } = useQuery(fairnessQuery(slug, task))
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Loading…</p>
  return (
    <div className="space-y-5">
      <section aria-label="Verdict">
        <p className="font-head text-24 leading-8 font-bold">
          {data.matrix?.verdict ?? "Nothing unfair found."}
        </p>
        {data.matrix && data.matrix.because.length > 0 && (
          <section aria-label="Could affect the times" className="mt-1 max-w-3xl">
            {data.matrix.because.map((line) => (
              <p key={line}>{line}</p>
            ))}
          </section>
        )}
        {!data.matrix && (
          <p className="text-mute">
            Conditions that you note in Line-up are compared here, with a baseline.
          </p>
        )}
        {data.matrix && (
          <FairMatrix slug={slug} matrix={data.matrix} baseline={data.baseline ?? "the baseline"} />
        )}
        <section aria-label="How much is known" className="mt-2 text-13 text-mute">
          {data.known.map((line) => (
            <p key={line}>{line}</p>
          ))}
        </section>
      </section>
      {data.broken.length > 0 && (
        <section aria-label="Not comparable: not the same job">
          <h2 className="mb-1 text-15">Not comparable: not the same job</h2>
          <ul>
            {data.broken.map((pair) => (
              <li
                key={`${pair.task_key} ${pair.a_id} ${pair.b_id}`}
                className={`border-l-2 py-1 pl-2 ${pair.overrule ? "border-line" : "border-accent"}`}
              >
                <button
                  type="button"
                  className="text-left underline decoration-line"
                  onClick={() => onPair(pair.a_id, pair.b_id, pair.task_key)}
                >
                  {pair.a} and {pair.b}
                </button>{" "}
                on {pair.task}: {pair.conditions.join(", ")} differs
                {pair.overrule && (
                  <span className="block text-13 text-mute">
                    Accepted by {pair.overrule.who}: {pair.overrule.reason}
                  </span>
                )}
              </li>
            ))}
          </ul>
        </section>
      )}
      {!data.matrix && <Lines title="Could affect the times" lines={data.lines} />}
      {data.allowed.length > 0 && (
        <details>
          <summary className="cursor-pointer">
            <strong>{count(data.allowed.length, "expected difference")}</strong>{" "}
            <span className="text-mute">
              {[...new Set(data.allowed.map((line) => line.condition))].join(", ")}
            </span>
          </summary>
          <div className="mt-2">
            <Lines title="Expected differences" lines={data.allowed} quiet />
          </div>
        </details>
      )}
    </div>
  )
}

function Lines({
  title,
  lines,
  quiet = false,
}: {
  title: string
  lines: Schemas["FairnessLine"][]
  quiet?: boolean
}) {
  if (lines.length === 0) return null
  return (
    <section aria-label={title}>
      <h2 className="mb-1 text-15">{title}</h2>
      <table className={`w-full border-collapse text-13 ${quiet ? "text-mute" : ""}`}>
        <tbody>
          {lines.map((line) => (
            <tr
              key={`${line.condition} ${line.weight} ${line.why}`}
              className="border-t border-line align-top"
            >
              <th scope="row" className="w-40 py-1.5 pr-3 text-left">
                {line.condition}
                {line.weight === "breaks" && (
                  <span className="block font-normal text-accent">not comparable</span>
                )}
              </th>
              <td className="py-1.5">
                <ul className="space-y-0.5">
                  {line.sides.map((side) => (
                    <li key={side.value}>
                      <strong className="font-bold">{side.value}</strong> on{" "}
                      {side.setups.join(", ")}
                    </li>
                  ))}
                </ul>
                {(line.tasks.length > 0 || line.why) && (
                  <p className="text-mute">
                    {line.tasks.length > 0 && `On ${line.tasks.join(", ")}. `}
                    {line.why}
                  </p>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  )
}

import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { sameWorkQuery } from "../../api/margins"
import { ProblemNote } from "../../parts/ProblemNote"
import { bandOf, RuleHead, RuleRow } from "../../parts/rule/RuleRow"
import { fitScale } from "../../parts/rule/scale"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"

/** One machine against itself: the same timeline in two apps, or in two settings. */
export function SameWork({ slug, materiality }: { slug: string; materiality: number }) {
  const { data, error } = useQuery(sameWorkQuery(slug, "mix"))
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Reading the book…</p>
  const known = data.filter((each) => each.rows.length > 0)
  if (known.length === 0) {
    return (
      <p className="max-w-2xl">
        Two tasks of one timeline and one operation, in two apps or two settings, stand side by side
        here once a setup has run both.
      </p>
    )
  }
  return (
    <div className="max-w-4xl space-y-7">
      {known.map((work) => (
        <Work
          key={`${work.one_key} ${work.other_key}`}
          slug={slug}
          work={work}
          materiality={materiality}
        />
      ))}
    </div>
  )
}

function Work({
  slug,
  work,
  materiality,
}: {
  slug: string
  work: Schemas["SameWork"]
  materiality: number
}) {
  const placeOf = useSetupPlaces(slug)
  const scale = fitScale([...bandOf(materiality), ...work.rows.flatMap((row) => [row.lo, row.hi])])
  return (
    <section aria-label={`${work.one} against ${work.other}`}>
      <h2 className="text-[15px]">
        {work.one} <span className="font-normal text-mute">against</span> {work.other}
      </h2>
      <RuleHead scale={scale} />
      {work.rows.map((row) => (
        <RuleRow
          key={row.setup_id}
          scale={scale}
          row={row}
          call={row.call}
          materiality={materiality}
          label={row.sentence}
        >
          <SetupMark index={placeOf(row.setup_id)} size={12} />
          <span className="truncate" title={row.label}>
            {row.label}
          </span>
        </RuleRow>
      ))}
      <p className="mt-1 text-[13px] text-mute">Right: faster in {work.one}.</p>
      <details className="mt-1">
        <summary className="text-[13px]">What may be said of each</summary>
        <ul className="mt-1 space-y-0.5 text-[13px]">
          {work.rows.map((row) => (
            <li key={row.setup_id}>{row.sentence}</li>
          ))}
        </ul>
      </details>
    </section>
  )
}

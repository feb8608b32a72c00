import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { sameWorkQuery } from "../../api/margins"
import { tasksQuery } from "../../api/queries"
import { ChoiceField } from "../../parts/ChoiceField"
import { JudgeForm } from "../../parts/JudgeForm"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { bandOf, RuleHead, RuleRow } from "../../parts/rule/RuleRow"
import { fitScale } from "../../parts/rule/scale"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { WithdrawWord } from "../../parts/WithdrawWord"

/** One machine against itself: the same timeline in two apps, or in two settings. */
export function SameWork({ slug, materiality }: { slug: string; materiality: number }) {
  const { data, error } = useQuery(sameWorkQuery(slug, "mix"))
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Loading…</p>
  const known = data.filter((each) => each.rows.length > 0 || each.doubt)
  return (
    <div className="max-w-4xl space-y-7">
      {known.length === 0 && (
        <p className="max-w-2xl">
          Two tasks of one timeline and one operation, in two apps or two settings, stand side by
          side here once a setup has run both.
        </p>
      )}
      {known.map((work) => (
        <Work
          key={`${work.one_key} ${work.other_key}`}
          slug={slug}
          work={work}
          materiality={materiality}
        />
      ))}
      <Writes>
        <NearlyTheSame slug={slug} />
      </Writes>
    </div>
  )
}

/** Puts two tasks side by side that only a person knows to be nearly the same work. */
function NearlyTheSame({ slug }: { slug: string }) {
  const sheets = useQuery(tasksQuery(slug)).data ?? []
  const timed = sheets.filter(({ task }) => task.measure === "time" && !task.superseded)
  const [one, setOne] = useState("")
  const [other, setOther] = useState("")
  if (timed.length < 2) return null
  const options = [
    { value: "", words: "choose" },
    ...timed.map(({ task }) => ({ value: task.id, words: task.name })),
  ]
  return (
    <section aria-label="Two tasks that are nearly the same">
      <h2 className="text-15">Two tasks that only you know to be nearly the same</h2>
      <div className="mt-1 flex flex-wrap gap-3">
        <div className="w-60">
          <ChoiceField label="One task" value={one} options={options} onValue={setOne} />
        </div>
        <div className="w-60">
          <ChoiceField label="The other" value={other} options={options} onValue={setOther} />
        </div>
      </div>
      {one && other && one !== other && (
        <JudgeForm
          slug={slug}
          taskId={one}
          about={{ other_task_id: other }}
          open="Say how near they are"
        />
      )}
    </section>
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
      <h2 className="text-15">
        {work.one} <span className="font-normal text-mute">against</span> {work.other}
      </h2>
      {work.doubt && (
        <p className="my-1 border-l-2 border-accent pl-2">
          {work.doubt}
          {work.judgement && <WithdrawWord slug={slug} word={work.judgement} />}
        </p>
      )}
      {work.rows.length > 0 && <RuleHead scale={scale} />}
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
          <span className="min-w-0 break-words">{row.label}</span>
        </RuleRow>
      ))}
      {work.rows.length > 0 && (
        <>
          <p className="mt-1 text-13 text-mute">Right: {work.one} is faster.</p>
          <details className="mt-1">
            <summary className="text-13">In words</summary>
            <ul className="mt-1 space-y-0.5 text-13">
              {work.rows.map((row) => (
                <li key={row.setup_id}>{row.sentence}</li>
              ))}
            </ul>
          </details>
        </>
      )}
      {!work.judgement && (
        <Writes>
          <JudgeForm
            slug={slug}
            taskId={work.one_key}
            about={{ other_task_id: work.other_key }}
            open="Say that it was not the same work"
          />
        </Writes>
      )}
    </section>
  )
}

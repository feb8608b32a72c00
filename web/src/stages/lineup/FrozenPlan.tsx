import { useQuery } from "@tanstack/react-query"
import type { FormEvent } from "react"
import { frozenPlanQuery, useFreezePlan } from "../../api/margins"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { useSentText } from "../../parts/useSentText"
import { count } from "../../theme/format"

/** What was planned before the first run, frozen with its day, and what was done otherwise. */
export function FrozenPlan({ slug }: { slug: string }) {
  const { data } = useQuery(frozenPlanQuery(slug))
  if (!data) return null
  const { plan, why_not: whyNot } = data
  return (
    <section className="mt-4 max-w-2xl" aria-label="Plan">
      <h2 className="mb-1 text-14">The plan</h2>
      {plan ? (
        <>
          <p>{plan.says}</p>
          <p className="text-13 text-mute">
            Frozen by {plan.who}; printed with every edition
            {data.earlier > 0 && `; ${count(data.earlier, "plan")} before it replaced`}
          </p>
          {plan.otherwise.length > 0 && (
            <ul aria-label="Done otherwise" className="mt-1 border-l-2 border-accent pl-2">
              {plan.otherwise.map((line) => (
                <li key={line}>{line}</li>
              ))}
            </ul>
          )}
        </>
      ) : (
        <p className="text-13 text-mute">
          {whyNot ??
            "Frozen before the first run, with its day: nobody can say that it was made to fit."}
        </p>
      )}
      {whyNot === null && (
        <Writes>
          <Freeze slug={slug} again={plan !== null} />
        </Writes>
      )}
    </section>
  )
}

function Freeze({ slug, again }: { slug: string; again: boolean }) {
  const { text: words, setText: setWords, sent } = useSentText()
  const freeze = useFreezePlan(slug)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!freeze.isPending) freeze.mutate(words, sent())
  }
  return (
    <form onSubmit={submit} className="mt-2 flex flex-wrap items-end gap-2">
      <div className="min-w-56 flex-1">
        <TextField
          label="What would count as a difference (may stay empty)"
          placeholder="a film that is ready five minutes sooner"
          value={words}
          onText={setWords}
          maxLength={1000}
        />
      </div>
      <ActButton type="submit" className="btn btn-sm" busy={freeze.isPending}>
        {again ? "Freeze it anew" : "Freeze the plan"}
      </ActButton>
      <div className="w-full empty:hidden">
        <ProblemNote error={freeze.error} />
      </div>
    </form>
  )
}

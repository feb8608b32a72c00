import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { turnsQuery } from "../../api/picks"
import { ProblemNote } from "../../parts/ProblemNote"
import { type Draft, withPart } from "./draft"

/** What would change the pick, and at which value; each can be tried. */
export function Turns({
  slug,
  trial,
  draft,
  onDraft,
}: {
  slug: string
  trial: Schemas["WhatIf"]
  draft: Draft
  onDraft: (next: Draft) => void
}) {
  const turns = useQuery(turnsQuery(slug, trial))
  if (turns.error) return <ProblemNote error={turns.error} />
  if (!turns.data) return <p className="text-mute">Working it out…</p>
  if (turns.data.length === 0) {
    return <p className="text-13 text-mute">No pick yet, so nothing to change.</p>
  }
  return (
    <div className="overflow-x-auto" aria-busy={turns.isFetching}>
      <table className="w-full max-w-4xl min-w-140 text-13">
        <thead className="text-left text-mute">
          <tr>
            <th scope="col" className="py-1 pr-3 font-normal">
              If only this changed
            </th>
            <th scope="col" className="pr-3 font-normal">
              now
            </th>
            <th scope="col" className="pr-3 font-normal">
              if lower
            </th>
            <th scope="col" className="font-normal">
              if higher
            </th>
          </tr>
        </thead>
        <tbody>
          {turns.data.map((lever) => (
            <tr key={`${lever.field} ${lever.task_id}`} className="border-t border-line">
              <th scope="row" className="py-1 pr-3 text-left font-normal">
                {lever.title}
              </th>
              <td className="figure pr-3">{lever.now}</td>
              {[lever.below, lever.above].map((turn, side) => (
                <td key={side === 0 ? "less" : "more"} className="pr-3">
                  {turn === null ? (
                    <span className="text-mute">no change</span>
                  ) : (
                    <button
                      type="button"
                      className="text-left underline"
                      onClick={() => onDraft(moved(draft, lever, turn.value))}
                    >
                      {side === 0 ? "at" : "from"} {turn.words}: <strong>{turn.pick}</strong>
                    </button>
                  )}
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-2 text-13 text-mute">
        Prices that would change it are beside the answer. Click a value to try it.
      </p>
    </div>
  )
}

/** The draft with one lever at a value. */
function moved(draft: Draft, lever: Schemas["LeverView"], value: number): Draft {
  const task = lever.task_id
  if (task !== null) {
    return withPart(draft, task, { [lever.field]: value })
  }
  if (lever.field === "usage") {
    return {
      ...draft,
      tasks: draft.tasks.map((part) => ({ ...part, amount: part.amount * value })),
    }
  }
  const text = String(Number(value.toFixed(3)))
  if (lever.field === "budget") return { ...draft, budget: text }
  if (lever.field === "hour_value") return { ...draft, hour_value: text }
  return { ...draft, [lever.field]: value }
}

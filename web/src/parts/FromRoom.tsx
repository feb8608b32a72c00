import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../api/client"
import { meQuery } from "../api/people"
import { takingQuery, useAnswerCorrection, useTake } from "../api/room"
import { count } from "../theme/format"
import { ActButton } from "./ActButton"
import { ProblemNote } from "./ProblemNote"
import { Writes } from "./Reading"

/** The store room as a shootout sees it; asked for by those who work on all shootouts only. */
function useTaking(slug: string) {
  const { data: me } = useQuery(meQuery)
  return useQuery({ ...takingQuery(slug), enabled: me !== undefined && me.makes !== false }).data
}

/** Takes machines or standing tasks of the store room into a shootout, each by a tick or all. */
export function FromRoom({ slug, what }: { slug: string; what: "machines" | "tasks" }) {
  const taking = useTaking(slug)
  const [ticked, setTicked] = useState<string[]>([])
  const take = useTake(slug)
  const offered = taking?.[what] ?? []
  if (offered.length === 0) return null
  const chosen = offered.filter((each) => ticked.includes(each.id)).map((each) => each.id)
  const send = () =>
    take.mutate(
      what === "machines"
        ? { machine_ids: chosen, standing_ids: [] }
        : { machine_ids: [], standing_ids: chosen },
      { onSuccess: () => setTicked([]) },
    )
  const noun = what === "machines" ? "machine" : "task"
  return (
    <Writes>
      <fieldset className="my-4 max-w-3xl border border-line p-3">
        <legend className="px-1 text-13 text-mute">From the store room</legend>
        <ul className="flex flex-wrap gap-x-5 gap-y-1">
          {offered.map((each) => (
            <li key={each.id}>
              <label className="flex min-h-7 items-center gap-2">
                <input
                  type="checkbox"
                  className="checkbox checkbox-sm"
                  checked={ticked.includes(each.id)}
                  onChange={(event) =>
                    setTicked(
                      event.target.checked
                        ? [...ticked, each.id]
                        : ticked.filter((id) => id !== each.id),
                    )
                  }
                />
                <span className="break-words">
                  {each.name} <span className="text-13 text-mute">{each.about}</span>
                </span>
              </label>
            </li>
          ))}
        </ul>
        <div className="mt-2 flex items-center gap-4">
          <ActButton
            type="button"
            className="btn btn-sm"
            busy={take.isPending}
            needs={chosen.length === 0 && "Choose at least one."}
            onClick={send}
          >
            {chosen.length === 0 ? "Tick what to take" : `Take ${count(chosen.length, noun)}`}
          </ActButton>
          {chosen.length < offered.length && (
            <button
              type="button"
              className="text-13 underline"
              onClick={() => setTicked(offered.map((each) => each.id))}
            >
              Tick all
            </button>
          )}
        </div>
        <ProblemNote error={take.error} />
      </fieldset>
    </Writes>
  )
}

/** What was corrected in the store room: asked about once, since only a person knows. */
export function Corrections({ slug }: { slug: string }) {
  const taking = useTaking(slug)
  const answer = useAnswerCorrection(slug)
  if (!taking || taking.corrections.length === 0) return null
  const say = (each: Schemas["CorrectionOffer"], to: "before" | "after") =>
    answer.mutate({ spec_id: each.spec_id, answer: to })
  return (
    <Writes>
      <section aria-label="Corrected in the store room" className="my-4 max-w-3xl">
        <ul className="border-t border-accent">
          {taking.corrections.map((each) => (
            <li
              key={each.spec_id}
              className="flex flex-wrap items-center gap-x-4 gap-y-1 border-b border-line py-2"
            >
              <span className="min-w-0 flex-1 basis-80 break-words">{each.words}</span>
              <ActButton
                type="button"
                className="btn btn-xs"
                busy={answer.isPending}
                onClick={() => say(each, "before")}
              >
                Before: correct it here
              </ActButton>
              <ActButton
                type="button"
                className="btn btn-xs"
                busy={answer.isPending}
                onClick={() => say(each, "after")}
              >
                After: keep it as tested
              </ActButton>
            </li>
          ))}
        </ul>
        <ProblemNote error={answer.error} />
      </section>
    </Writes>
  )
}

/** The shootouts of one's series, this one among them. */
export function useSeries(slug: string): Schemas["Series"][] {
  return useTaking(slug)?.series ?? []
}

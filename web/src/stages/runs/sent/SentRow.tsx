import { useState } from "react"
import type { Schemas } from "../../../api/client"
import { day } from "../../../theme/format"
import { DecideForm, EraseForm } from "./DecideForm"

type Result = Schemas["SentView"]
export type Asked = "accepted" | "declined" | "withdrawn" | "erased"

const STATE: Record<string, string> = {
  new: "to decide on",
  accepted: "accepted",
  declined: "declined",
  withdrawn: "withdrawn",
  erased: "erased",
}
/** What may be done with a result, by its state. */
const MOVES: Record<string, [Asked, string][]> = {
  new: [
    ["accepted", "Accept"],
    ["declined", "Decline"],
  ],
  accepted: [["withdrawn", "Withdraw"]],
  declined: [["accepted", "Accept after all"]],
  withdrawn: [["accepted", "Accept again"]],
}

/** One result: how it does against the machine here, its runs, and what is decided about it. */
export function SentRow({ slug, result }: { slug: string; result: Result }) {
  const [asked, setAsked] = useState<Asked | null>(null)
  const done = () => setAsked(null)
  return (
    <li className="border-b border-line py-3">
      <p className="flex flex-wrap items-baseline gap-x-3">
        <strong>{result.model}</strong>
        <span>{result.sender ?? (result.can_erase ? "no name given" : "")}</span>
        <span className="text-13 text-mute">
          {result.made_at && `made ${day(result.made_at)}, `}added {day(result.received_at)} by{" "}
          {result.received_by}
        </span>
        <span className={`text-13 ${result.state === "new" ? "text-accent" : "text-mute"}`}>
          {STATE[result.state]}
          {result.why && `: ${result.why}`}
        </span>
      </p>
      {result.can_erase && <What result={result} />}
      {asked === null && result.can_erase && (
        <div className="mt-2 flex flex-wrap gap-2">
          {(MOVES[result.state] ?? []).map(([state, words]) => (
            <button
              key={state}
              type="button"
              className="btn btn-sm"
              onClick={() => setAsked(state)}
            >
              {words}
            </button>
          ))}
          <button type="button" className="btn btn-sm btn-ghost" onClick={() => setAsked("erased")}>
            Erase for its sender
          </button>
        </div>
      )}
      {asked === "erased" && <EraseForm slug={slug} result={result} onDone={done} />}
      {asked !== null && asked !== "erased" && (
        <DecideForm slug={slug} result={result} state={asked} onDone={done} />
      )}
    </li>
  )
}

/** What a result says. */
function What({ result }: { result: Result }) {
  return (
    <>
      <p className="mt-1 text-16">
        {result.against} <span className="text-mute">{result.beside}</span>
      </p>
      {!result.sealed && (
        <p className="mt-1 text-13 text-accent">
          Its seal does not fit: it was changed after the kit wrote it. Ask its sender before you
          accept it.
        </p>
      )}
      <ul className="mt-1 text-13">
        {result.tasks.map((task) => (
          <li key={task.name + task.runs}>
            {task.name}: <span className="figure">{task.runs}</span>
            {task.problem && <span className="text-accent"> {task.problem}</span>}
          </li>
        ))}
      </ul>
      {result.note && <p className="mt-1 max-w-3xl text-13 break-words">“{result.note}”</p>}
      {result.facts.length > 0 && (
        <details className="mt-1 text-13">
          <summary>What the machine says of itself</summary>
          <ul className="mt-1 columns-1 gap-6 sm:columns-2">
            {result.facts.map((fact) => (
              <li key={fact} className="break-words text-mute">
                {fact}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  )
}

import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { earlierQuery, useBringEarlier } from "../../api/margins"
import { shootoutsQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import { count } from "../../theme/format"

/** Brings machines, tasks and runs of an earlier shootout in, as rounds before the others. */
export function Earlier({ slug }: { slug: string }) {
  const [other, setOther] = useState("")
  const shelf = useQuery(shootoutsQuery()).data ?? []
  const { data: preview, error } = useQuery(earlierQuery(slug, other))
  const others = shelf.filter((each) => each.slug !== slug)
  if (others.length === 0) return null
  return (
    <section aria-label="Earlier shootouts" className="border-t border-line pt-3">
      <h2 className="mb-1 text-14">Earlier shootouts</h2>
      <p className="mb-2 max-w-2xl text-13 text-mute">
        Import runs from an earlier shootout as an older round. At least one machine must be in
        both, to link them.
      </p>
      <select
        aria-label="Earlier shootout"
        className="select select-sm max-w-full bg-page"
        value={other}
        onChange={(event) => setOther(event.target.value)}
      >
        <option value="">Choose a shootout…</option>
        {others.map((each) => (
          <option key={each.slug} value={each.slug}>
            {each.name}
          </option>
        ))}
      </select>
      <ProblemNote error={error} />
      {preview && other && <Preview key={preview.slug} slug={slug} preview={preview} />}
    </section>
  )
}

function Preview({ slug, preview }: { slug: string; preview: Schemas["EarlierPreview"] }) {
  const [chosen, setChosen] = useState(() =>
    preview.tasks.filter((task) => task.here && task.runs > 0).map((task) => task.id),
  )
  const bring = useBringEarlier(slug)
  const toggle = (id: string) =>
    setChosen((old) => (old.includes(id) ? old.filter((each) => each !== id) : [...old, id]))
  const offered = preview.tasks.filter((task) => task.runs > 0)
  return (
    <div className="mt-3 max-w-2xl space-y-2">
      <p>{preview.summary}</p>
      <p className="text-13 text-mute">
        Rounds: {preview.rounds.join(", ")}.{" "}
        {preview.machines_new.length > 0 && `New machines: ${preview.machines_new.join(", ")}. `}
        {preview.machines_here.length > 0 && `Here already: ${preview.machines_here.join(", ")}.`}
      </p>
      <ul>
        {offered.map((task) => (
          <li key={task.id}>
            <label className="flex items-baseline gap-2">
              <input
                type="checkbox"
                className="checkbox checkbox-xs"
                checked={chosen.includes(task.id)}
                onChange={() => toggle(task.id)}
              />
              <span>
                {task.name} <span className="text-mute">in {task.app}</span>,{" "}
                {count(task.runs, "run")}
                {!task.here && <span className="text-accent"> · new here</span>}
              </span>
            </label>
          </li>
        ))}
      </ul>
      <ActButton
        type="button"
        className="btn btn-sm"
        busy={bring.isPending}
        needs={chosen.length === 0 && "Choose at least one."}
        onClick={() => bring.mutate({ slug: preview.slug, task_ids: chosen })}
      >
        Import as earlier rounds
      </ActButton>
      {bring.data && (
        <p {...SPOKEN}>
          {count(bring.data.runs, "run")} brought in
          {bring.data.known > 0 && `, ${bring.data.known} were here already`}
          {bring.data.machines > 0 && `, with ${count(bring.data.machines, "machine")}`}.
        </p>
      )}
      <ProblemNote error={bring.error} />
    </div>
  )
}

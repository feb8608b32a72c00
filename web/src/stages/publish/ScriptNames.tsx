import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useNameInScript } from "../../api/publish"
import { lineupQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { useSentText } from "../../parts/useSentText"

/** Other names that the reviewer uses for setups: "the big grey one". */
export function ScriptNames({ slug, view }: { slug: string; view: Schemas["ScriptView"] }) {
  const setups = useQuery(lineupQuery(slug)).data?.setups ?? []
  const change = useNameInScript(slug)
  const { text: name, setText: setName, sent } = useSentText()
  const [chosen, setChosen] = useState("")
  const setup = chosen || setups[0]?.id || ""
  const add = (event: FormEvent) => {
    event.preventDefault()
    change.mutate({ name, setup_id: setup }, sent())
  }
  const label = (id: string) => setups.find((each) => each.id === id)?.label ?? "?"
  return (
    <details className="mt-4 text-13" open={Object.keys(view.names).length > 0 || undefined}>
      <summary className="text-mute underline">Names you use for machines</summary>
      <ul className="mt-1">
        {Object.entries(view.names).map(([own, id]) => (
          <li key={own} className="flex gap-2 py-0.5">
            <span className="min-w-0 flex-1 break-words">
              {own}: {label(id)}
            </span>
            <Writes>
              <button
                type="button"
                className="text-mute underline"
                aria-label={`Undo the name ${own}`}
                onClick={() => change.mutate({ name: own, setup_id: null })}
              >
                Undo
              </button>
            </Writes>
          </li>
        ))}
      </ul>
      <Writes>
        <form onSubmit={add} className="mt-1 flex flex-wrap gap-1.5">
          <input
            aria-label="Name in the script"
            className="input input-sm min-w-0 flex-1 bg-page"
            placeholder="big grey one"
            value={name}
            onChange={(event) => setName(event.target.value)}
          />
          <select
            aria-label="Setup that it means"
            className="select select-sm w-40 bg-page"
            value={setup}
            onChange={(event) => setChosen(event.target.value)}
          >
            {setups.map((each) => (
              <option key={each.id} value={each.id}>
                {each.label}
              </option>
            ))}
          </select>
          <ActButton
            type="submit"
            className="btn btn-sm h-8"
            needs={setup === "" && "Choose a setup first."}
          >
            Add name
          </ActButton>
        </form>
      </Writes>
      <ProblemNote error={change.error} />
    </details>
  )
}

import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import type { Draft, Need } from "./draft"
import { askable } from "./needs"

/** What a machine must have: each need can be taken away, another one added. */
export function Needs({
  rows,
  words,
  draft,
  error,
  onDraft,
}: {
  rows: Schemas["SpecRow"][]
  /** The needs in words, as the server says them. */
  words: string[]
  draft: Draft
  error: string | null
  onDraft: (next: Draft) => void
}) {
  if (askable(rows).length === 0) return null
  const drop = (place: number) =>
    onDraft({ ...draft, needs: draft.needs.filter((_, at) => at !== place) })
  return (
    <section aria-label="Needs" className="mt-5">
      <h2 className="text-14">Needs</h2>
      <ul className="mt-1 text-13">
        {draft.needs.map((need, place) => (
          <li key={`${need.about} ${need.relation} ${need.value}`} className="flex gap-2 py-0.5">
            <span className="min-w-0 flex-1 break-words">
              {words[place] ?? `${need.about} ${need.relation} ${need.value ?? ""}`}
            </span>
            <button
              type="button"
              className="text-mute underline"
              aria-label={`Drop the need ${words[place] ?? need.about}`}
              onClick={() => drop(place)}
            >
              Drop
            </button>
          </li>
        ))}
        {draft.needs.length === 0 && <li className="text-mute">nothing in particular</li>}
      </ul>
      {error && (
        <p role="alert" className="text-13 text-accent">
          {error}
        </p>
      )}
      <details className="mt-1">
        <summary className="text-13 text-mute underline">Add a need</summary>
        <AddNeed
          rows={rows}
          onAdd={(need) => onDraft({ ...draft, needs: [...draft.needs, need] })}
        />
      </details>
    </section>
  )
}

/** The form for one more need. */
function AddNeed({ rows, onAdd }: { rows: Schemas["SpecRow"][]; onAdd: (need: Need) => void }) {
  const choices = askable(rows)
  const [about, setAbout] = useState("memory_gb")
  const chosen = choices.find((each) => each.about === about) ?? choices[0]
  const [relation, setRelation] = useState<Need["relation"]>("at least")
  const [value, setValue] = useState("")
  if (!chosen) return null
  const way = chosen.relations.includes(relation) ? relation : chosen.relations[0]
  const picked =
    chosen.choices.length > 0 && !chosen.choices.includes(value) ? (chosen.choices[0] ?? "") : value
  const add = (event: FormEvent) => {
    event.preventDefault()
    if (!way) return
    const need: Need = { about, relation: way, value: way === "none" ? null : picked }
    onAdd(need)
    setValue("")
  }
  return (
    <form onSubmit={add} className="mt-1 space-y-1.5">
      <select
        aria-label="What is needed"
        className="select select-sm w-full bg-page"
        value={about}
        onChange={(event) => setAbout(event.target.value)}
      >
        {choices.map((each) => (
          <option key={each.about} value={each.about}>
            {each.title}
          </option>
        ))}
      </select>
      <div className="flex gap-1.5">
        <select
          aria-label="How"
          className="select select-sm w-28 shrink-0 bg-page"
          value={way}
          onChange={(event) => setRelation(event.target.value as Need["relation"])}
        >
          {chosen.relations.map((each) => (
            <option key={each} value={each}>
              {each}
            </option>
          ))}
        </select>
        {way !== "none" && (
          <Value choices={chosen.choices} unit={chosen.unit} value={picked} onValue={setValue} />
        )}
      </div>
      <button type="submit" className="btn btn-sm h-7">
        Add need
      </button>
    </form>
  )
}

/** The value that is needed: out of a list where there is one, else typed. */
function Value({
  choices,
  unit,
  value,
  onValue,
}: {
  choices: string[]
  unit: string | null | undefined
  value: string
  onValue: (value: string) => void
}) {
  if (choices.length === 0) {
    return (
      <input
        aria-label="Value needed"
        className="input input-sm min-w-0 flex-1 bg-page"
        placeholder={unit ?? ""}
        value={value}
        onChange={(event) => onValue(event.target.value)}
      />
    )
  }
  return (
    <select
      aria-label="Value needed"
      className="select select-sm min-w-0 flex-1 bg-page"
      value={value}
      onChange={(event) => onValue(event.target.value)}
    >
      {choices.map((each) => (
        <option key={each} value={each}>
          {each}
        </option>
      ))}
    </select>
  )
}

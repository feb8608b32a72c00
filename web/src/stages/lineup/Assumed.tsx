import { type FormEvent, useState } from "react"
import { useChangeSetup } from "../../api/changes"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading, Writes } from "../../parts/Reading"
import { ratio as asRatio, compact, plain, readNumber } from "../../theme/format"
import type { Setup } from "./specs"

/** How fast a setup without runs is said to be, and by whom; never mixed with what was measured. */
export function Assumed({ slug, setup, setups }: { slug: string; setup: Setup; setups: Setup[] }) {
  const others = setups.filter((each) => each.id !== setup.id)
  const [ratio, setRatio] = useState(
    setup.assumed_ratio === null ? "" : compact(setup.assumed_ratio),
  )
  const [against, setAgainst] = useState(setup.assumed_against_id ?? others[0]?.id ?? "")
  const [source, setSource] = useState(setup.assumed_source ?? "")
  const change = useChangeSetup(slug)
  const value = readNumber(ratio) ?? Number.NaN
  const bad = ratio.trim() !== "" && !(value > 0 && value <= 1000)
  const save = (body: { ratio: number; against: string; source: string } | null) =>
    change.mutate({
      id: setup.id,
      body: {
        version: setup.version,
        assumed_ratio: body?.ratio ?? null,
        assumed_against_id: body?.against ?? null,
        assumed_source: body?.source ?? null,
      },
    })
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!bad) save({ ratio: value, against, source })
  }
  const said = setups.find((each) => each.id === setup.assumed_against_id)
  const reading = useReading()
  if (reading && setup.assumed_ratio === null) return null
  return (
    <details className="mb-2 pl-3 text-13">
      <summary className="cursor-pointer text-mute">
        {setup.assumed_ratio !== null && said
          ? `claimed: ${asRatio(setup.assumed_ratio)} ${said.label}, not tested`
          : "claimed speed, where there are no runs"}
      </summary>
      <Writes>
        <form onSubmit={submit} className="mt-1 grid grid-cols-2 gap-2">
          <TextField
            label="Times as fast"
            value={ratio}
            onText={setRatio}
            placeholder={plain(1.2)}
            error={bad ? `Type it like ${plain(1.2)}.` : null}
          />
          <ChoiceField
            label="as"
            value={against}
            options={others.map((each) => ({ value: each.id, words: each.label }))}
            onValue={setAgainst}
          />
          <div className="col-span-2">
            <TextField label="Source" value={source} onText={setSource} maxLength={200} />
          </div>
          <ActButton
            type="submit"
            className="btn btn-xs"
            busy={change.isPending}
            needs={
              (bad || !ratio.trim() || !source.trim() || !against) &&
              "Needs how fast, against which setup, and who says so."
            }
          >
            Note it
          </ActButton>
          {setup.assumed_ratio !== null && (
            <button type="button" className="btn btn-ghost btn-xs" onClick={() => save(null)}>
              Undo
            </button>
          )}
          <div className="col-span-2 empty:hidden">
            <ProblemNote error={change.error} />
          </div>
        </form>
      </Writes>
    </details>
  )
}

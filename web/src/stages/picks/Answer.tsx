import type { Schemas } from "../../api/client"
import { type Draft, RULES, type Rule } from "./draft"
import { FlipScales } from "./FlipScales"

/** The pick in one sentence with its surety, what came second, what it saves, when it changes. */
export function Answer({
  view,
  draft,
  stale,
  placeOf,
  onRule,
  onTry,
}: {
  view: Schemas["PickView"]
  draft: Draft
  /** True while a newer answer is awaited. */
  stale: boolean
  placeOf: (id: string) => number
  onRule: (rule: Rule) => void
  onTry: (row: Schemas["PickRow"], price: number) => void
}) {
  const picked = view.picked
  const row = view.rows.find((each) => each.setup_id === picked?.setup_id)
  const owned = view.rows.find((each) => each.keep)
  const best = row?.upgrade ? row : undefined
  return (
    <div className="min-w-0" data-waiting={stale || undefined}>
      <select
        aria-label="Picked by"
        className="h-6 max-w-full bg-transparent text-[13px] text-mute"
        value={draft.rule}
        onChange={(event) => onRule(event.target.value as Rule)}
      >
        {RULES.map((rule) => (
          <option key={rule.id} value={rule.id}>
            {rule.title}
          </option>
        ))}
      </select>
      <div aria-live="polite">
        {picked ? (
          <p className="mt-1 text-[19px] leading-[26px] font-bold">
            <span className="text-accent">{picked.what}</span>; {picked.surety}.
          </p>
        ) : (
          <p role="alert" className="mt-1 border-l-2 border-accent pl-2 text-[15px] leading-5">
            {view.problem?.words}
          </p>
        )}
      </div>
      {picked?.level && <p className="mt-2 text-[13px] text-mute">{picked.level}</p>}
      {picked?.second && <p className="mt-1 text-[13px] text-mute">{picked.second}</p>}
      {[...view.notes, ...(view.samples ? [view.samples] : [])].map((note) => (
        <p key={note} className="mt-1 text-[13px] text-mute">
          {note}
        </p>
      ))}
      {picked && <Predicted runs={view.predicted} label={picked.label} />}
      {best?.upgrade && owned && (
        <table className="mt-4 w-full text-[13px]">
          <caption className="text-left text-mute">Against {owned.label}</caption>
          <tbody>
            {[
              ["saves", best.upgrade.words.hours],
              ["", best.upgrade.words.year],
              ["worth", best.upgrade.words.worth],
              ["", best.upgrade.words.payback],
            ].map(([head, words]) => (
              <tr key={words} className="border-t border-line">
                <th
                  scope="row"
                  className="w-14 py-1 pr-1 text-left align-top font-normal text-mute"
                >
                  {head}
                </th>
                <td className="py-1">{words}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      <FlipScales view={view} placeOf={placeOf} onTry={onTry} />
      {best?.beyond && (
        <p className="mt-4 text-[12px] leading-4 text-mute">Besides speed: {best.beyond}.</p>
      )}
      <Out view={view} />
    </div>
  )
}

/** How long one run takes on a machine of the viewer's own, not only on the one that was timed. */
function Predicted({ runs, label }: { runs: Schemas["PredictedRun"][]; label: string }) {
  if (runs.length === 0) return null
  return (
    <details className="mt-2 text-[13px]" open={runs.some((run) => run.accepted)}>
      <summary className="cursor-pointer text-mute">One run on {label} of the viewer's own</summary>
      <ul>
        {runs.map((run) => (
          <li key={run.task_id} className="flex justify-between gap-3 border-t border-line py-0.5">
            <span className="min-w-0 break-words">{run.task}</span>
            <span className="figure whitespace-nowrap">{run.span}</span>
          </li>
        ))}
      </ul>
      <p className="text-mute">
        Scatter of one run, another sample and what is known of the mean are in each.
      </p>
    </details>
  )
}

/** Who drops out, and why: by a need in full, the others by name. */
function Out({ view }: { view: Schemas["PickView"] }) {
  const needed = view.rows.filter((row) => row.out === "need")
  const others = view.rows.filter((row) => row.why && !needed.includes(row))
  if (needed.length + others.length + view.off.length === 0) return null
  const groups = new Map<string, string[]>()
  for (const row of others) {
    groups.set(row.why ?? "", [...(groups.get(row.why ?? "") ?? []), row.label])
  }
  return (
    <ul aria-label="Out" className="mt-4 space-y-0.5 text-[12px] leading-4 text-mute">
      {needed.map((row) => (
        <li key={row.setup_id}>
          {row.label} is out: {row.why}.
        </li>
      ))}
      {[...groups].map(([why, labels]) => (
        <li key={why}>
          {labels.join(", ")}: {why}.
        </li>
      ))}
      {view.off.length > 0 && (
        <li>Not on the ladder of this work: {view.off.map((row) => row.label).join(", ")}.</li>
      )}
    </ul>
  )
}

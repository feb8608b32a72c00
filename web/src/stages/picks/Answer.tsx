import type { Schemas } from "../../api/client"
import { useSaid } from "../../reach/useSaid"
import { count } from "../../theme/format"
import { Besides } from "./Besides"
import { type Draft, RULES, type Rule } from "./draft"
import { Figures } from "./Figures"
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
  useSaid(picked ? `${picked.what}.` : "Nothing is picked.")
  return (
    <div className="min-w-0" data-waiting={stale || undefined}>
      <select
        aria-label="Picked by"
        className="h-6 max-w-full bg-transparent text-13 text-mute"
        value={draft.rule}
        onChange={(event) => onRule(event.target.value as Rule)}
      >
        {RULES.map((rule) => (
          <option key={rule.id} value={rule.id}>
            {rule.title}
          </option>
        ))}
      </select>
      <div>
        {picked ? (
          <>
            <h2 className="mt-1 text-22 leading-7 text-accent">{picked.what}.</h2>
            <p className="mt-1 text-15 leading-5">{picked.reason}</p>
            {picked.caution && (
              <p className="mt-1 border-l-2 border-accent pl-2 text-15 leading-5">
                {picked.caution} The page says to keep what you have.
              </p>
            )}
            <p className="mt-1 text-13 text-mute">{picked.surety}</p>
          </>
        ) : (
          <p role="alert" className="mt-1 border-l-2 border-accent pl-2 text-15 leading-5">
            {view.problem?.words}
          </p>
        )}
      </div>
      {picked?.second && <p className="mt-1 text-13">{picked.second}</p>}
      {picked?.level && <p className="mt-1 text-13">{picked.level}</p>}
      {best?.upgrade && owned && (
        <Figures upgrade={best.upgrade} owned={owned.label} currency={view.currency} />
      )}
      <Changes view={view} />
      <details className="mt-1">
        <summary className="cursor-pointer text-13 text-mute">Try prices</summary>
        <FlipScales view={view} placeOf={placeOf} onTry={onTry} />
      </details>
      {best && <Besides row={best} />}
      {picked && <Predicted runs={view.predicted} label={picked.label} />}
      {[...view.notes, ...(view.samples ? [view.samples] : [])].map((note) => (
        <p key={note} className="mt-2 text-12 leading-4 text-mute">
          {note}
        </p>
      ))}
      <Out view={view} />
    </div>
  )
}

/** At which price the pick loses, and what the nearest rival would have to cost. */
function Changes({ view }: { view: Schemas["PickView"] }) {
  const priced = view.rows.filter((row) => row.flip !== null && !row.flip.endless)
  const own = priced.find((row) => row.setup_id === view.picked?.setup_id)
  const far = (row: Schemas["PickRow"]) => {
    const [price, at] = [
      Number(row.price.amount ?? Number.NaN),
      Number(row.flip?.price ?? Number.NaN),
    ]
    return Number.isFinite(price - at) ? Math.abs(price - at) / Math.max(price, 1) : Infinity
  }
  const rival = priced
    .filter((row) => row !== own && far(row) < Infinity)
    .sort((one, other) => far(one) - far(other))[0]
  const lines = [own, rival].filter((row) => row !== undefined)
  if (lines.length === 0) return null
  return (
    <section aria-label="Changes if" className="mt-4 text-13">
      <h3 className="text-13 text-mute">Changes with the price</h3>
      <ul>
        {lines.map((row) => (
          <li key={row.setup_id}>
            <strong>{row.label}</strong> {row.flip?.words}.
          </li>
        ))}
      </ul>
    </section>
  )
}

/** How long one run takes on a machine of the viewer's own, not only on the one that was timed. */
function Predicted({ runs, label }: { runs: Schemas["PredictedRun"][]; label: string }) {
  if (runs.length === 0) return null
  return (
    <details className="mt-2 text-13" open={runs.some((run) => run.accepted)}>
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
    <details className="mt-3 text-12 leading-4 text-mute">
      <summary className="cursor-pointer">
        {count(needed.length + others.length + view.off.length, "machine")} left out
      </summary>
      <ul aria-label="Out" className="mt-1 space-y-0.5">
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
          <li>
            Left out (not tested on all of this work): {view.off.map((row) => row.label).join(", ")}
            .
          </li>
        )}
      </ul>
    </details>
  )
}

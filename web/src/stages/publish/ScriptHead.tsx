import type { Schemas } from "../../api/client"
import { useSaid } from "../../reach/useSaid"
import { BAR_CLASS, type Bar, type Fate, fateOf } from "./verdicts"

const FATES: { fate: Fate; bar: Bar; words: string }[] = [
  { fate: "fix", bar: "accent", words: "to fix" },
  { fate: "confirm", bar: "double", words: "to confirm" },
  { fate: "not understood", bar: "dotted", words: "not understood" },
  { fate: "holds", bar: "solid", words: "hold" },
]

/** What is to be done before recording, and how many sentences came out as what. */
export function ScriptHead({ check }: { check: Schemas["ScriptCheck"] }) {
  const counts = new Map<Fate, number>()
  for (const claim of check.claims) {
    const fate = fateOf(claim)
    counts.set(fate, (counts.get(fate) ?? 0) + 1)
  }
  const hold = counts.get("holds") ?? 0
  const open = check.claims.length - hold
  const head = headline(check, open, hold)
  useSaid(head)
  return (
    <header className="mb-3 flex flex-wrap items-end justify-between gap-x-6 gap-y-2">
      <div>
        <h2 className="text-22 leading-tight">{head}</h2>
        {check.sentences > 0 && (
          <p className="text-13 text-mute">
            {count(check.sentences, "sentence")}, {count(check.claims.length, "claim")};{" "}
            {check.plain.length} claim nothing
          </p>
        )}
        {!check.english && (
          <p className="text-13 text-accent">
            This does not read like English. Only English is understood, so nothing here was checked
            that has no mark.
          </p>
        )}
      </div>
      <ul className="flex flex-wrap gap-x-5 gap-y-1 text-13" aria-label="Claims by outcome">
        {FATES.filter(({ fate }) => counts.has(fate)).map(({ fate, bar, words }) => (
          <li
            key={fate}
            className={`flex items-center gap-2 ${fate === "holds" ? "text-mute" : ""}`}
          >
            <span aria-hidden="true" className={`h-4 w-[5px] ${BAR_CLASS[bar]}`} />
            <span>
              <strong>{counts.get(fate)}</strong> {words}
            </span>
          </li>
        ))}
      </ul>
    </header>
  )
}

function headline(check: Schemas["ScriptCheck"], open: number, hold: number): string {
  if (check.sentences === 0) return "Nothing written yet."
  if (open > 0) return `${count(open, "line")} to check before you record.`
  if (hold === 0) return "Nothing here claims anything."
  return hold === 1 ? "The one claim holds." : `All ${hold} claims hold.`
}

function count(number: number, noun: string): string {
  return `${number} ${noun}${number === 1 ? "" : "s"}`
}

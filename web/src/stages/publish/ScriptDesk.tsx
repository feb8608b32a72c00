import { type KeyboardEvent, useRef } from "react"
import type { Schemas } from "../../api/client"
import { useReading } from "../../parts/Reading"
import { BAR_CLASS, fateOf, markOf, wordOf } from "./verdicts"

/**
 * The script as plain text, with a bar and a word in the margin of each line that claims
 * something, and a word beside one that names a machine and claims nothing. The bars lie on a copy of the text that wraps as the text does.
 */
export function ScriptDesk({
  text,
  claims,
  plain,
  onText,
  onAccept,
}: {
  text: string
  claims: Schemas["CheckedLine"][]
  /** Sentences that claim nothing. */
  plain: Schemas["PlainLine"][]
  onText: (next: string) => void
  /** Says the offered line instead, for the claim on this line. */
  onAccept: (line: number) => void
}) {
  const area = useRef<HTMLTextAreaElement>(null)
  const reading = useReading()
  const pressed = (event: KeyboardEvent<HTMLTextAreaElement>) => {
    if (reading || event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return
    event.preventDefault()
    const before = text.slice(0, event.currentTarget.selectionStart)
    onAccept(before.split("\n").length)
  }
  const worst = new Map<number, Schemas["CheckedLine"]>()
  for (const claim of claims) {
    const known = worst.get(claim.line)
    if (!known || markOf(claim).weight > markOf(known).weight) worst.set(claim.line, claim)
  }
  const silent = new Set(plain.filter((each) => each.named && !each.said).map(({ line }) => line))
  return (
    <div className="script">
      <div aria-hidden="true" className="script-copy">
        {text.split("\n").map((line, at) => {
          const claim = worst.get(at + 1)
          return (
            // biome-ignore lint/suspicious/noArrayIndexKey: lines have no other name.
            <div key={at} className="relative">
              {claim && (
                <>
                  <span
                    className={`absolute top-[3px] bottom-[3px] -left-[0.625rem] w-[5px] ${
                      BAR_CLASS[markOf(claim).bar]
                    }`}
                  />
                  <span
                    className={`script-verdict ${fateOf(claim) === "holds" ? "text-mute" : "text-accent"}`}
                  >
                    {wordOf(claim)}
                  </span>
                </>
              )}
              {!claim && silent.has(at + 1) && (
                <span className="script-verdict text-mute">not checked</span>
              )}
              <span className="invisible">{line || "\u00a0"}</span>
            </div>
          )
        })}
      </div>
      <textarea
        ref={area}
        aria-label="Script"
        readOnly={reading}
        spellCheck={false}
        className="script-text"
        value={text}
        placeholder="Write or paste your script. Each comparison is checked against your runs as you type."
        onChange={(event) => onText(event.target.value)}
        onKeyDown={pressed}
      />
    </div>
  )
}

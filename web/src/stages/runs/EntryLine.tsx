import { type KeyboardEvent, useEffect, useId, useRef, useState } from "react"
import { OfferList } from "../../parts/OfferList"
import { ProblemNote } from "../../parts/ProblemNote"
import { useOffers } from "../../parts/useOffers"
import { EntryAnswer } from "./EntryAnswer"
import { changeOf, type LastChange } from "./lastChange"
import { useEntry } from "./useEntry"

/** One run as a line of text: setup / task / time, with completion. */
export function EntryLine({
  slug,
  undone,
  onStored,
}: {
  slug: string
  /** How often something was taken back here. */
  undone: number
  onStored: (change: LastChange) => void
}) {
  const field = useRef<HTMLInputElement>(null)
  const entry = useEntry(slug, field)
  const [focused, setFocused] = useState(false)
  const id = useId()
  const completions = focused ? (entry.reading?.completions ?? []) : []
  const offers = completions.map(({ name }) => ({ words: name }))
  const open = offers.length > 0 && !entry.reading?.ready
  const wasStored = entry.stored
  useEffect(() => {
    if (!wasStored) return
    field.current?.focus()
    onStored(changeOf(`Entered: ${wasStored.says}`, [wasStored.run]))
  }, [wasStored, onStored])

  const forget = useRef(entry.forget)
  forget.current = entry.forget
  useEffect(() => {
    if (undone > 0) forget.current()
  }, [undone])

  const take = (place: number) => {
    const completion = completions[place]
    if (completion) entry.type(completion.line)
    offered.choose(0)
  }
  const offered = useOffers({ offers, text: entry.line, open, onType: entry.type, onTake: take })
  const pressed = (event: KeyboardEvent) => {
    if (event.key === "Tab" && open && !event.shiftKey && entry.line) take(offered.chosen)
    else if (event.key === "Enter") {
      // Stores the line where it can be; only else what is offered is taken.
      Object.assign(event.nativeEvent, { preventDownshiftDefault: true })
      void entry.enter(open ? offered.chosen : 0)
      offered.choose(0)
    } else return
    event.preventDefault()
  }
  return (
    <div className="relative mb-4 max-w-3xl">
      <label htmlFor={`${id}-field`} className="mb-1 block text-13 text-mute">
        Type a run: machine / task / time, and how you timed it if not by hand (log, recording, from
        memory)
      </label>
      <input
        {...offered.field({
          id: `${id}-field`,
          ref: field,
          "aria-describedby": `${id}-answer`,
          onFocus: () => setFocused(true),
          onBlur: () => setFocused(false),
          onKeyDown: pressed,
        })}
        autoComplete="off"
        spellCheck={false}
        // biome-ignore lint/a11y/noAutofocus: entering runs is what this stage is for
        autoFocus
        maxLength={500}
        className="figure input w-full bg-page text-16"
        placeholder="halyard l / parade / 6:17 log"
      />
      <OfferList
        of={offered}
        label="Names that fit"
        offers={offers}
        open={open}
        className="w-full"
      />
      <div id={`${id}-answer`} className={`min-h-6 pt-1 ${open ? "invisible" : ""}`}>
        <EntryAnswer entry={entry} />
        <ProblemNote error={entry.error} />
      </div>
    </div>
  )
}

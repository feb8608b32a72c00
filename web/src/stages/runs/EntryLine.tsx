import { type KeyboardEvent, useEffect, useId, useRef, useState } from "react"
import { OfferList, offerId } from "../../parts/OfferList"
import { ProblemNote } from "../../parts/ProblemNote"
import { EntryAnswer } from "./EntryAnswer"
import { changeOf, type LastChange } from "./lastChange"
import { useEntry } from "./useEntry"

/** One run as a line of text: setup / task / time, with completion. */
export function EntryLine({
  slug,
  onStored,
}: {
  slug: string
  onStored: (change: LastChange) => void
}) {
  const entry = useEntry(slug)
  const [chosen, setChosen] = useState(0)
  const [focused, setFocused] = useState(false)
  const field = useRef<HTMLInputElement>(null)
  const list = useId()
  const answer = useId()
  const offers = focused ? (entry.reading?.completions ?? []) : []
  const open = offers.length > 0 && !entry.reading?.ready
  const wasStored = entry.stored
  useEffect(() => {
    if (!wasStored) return
    field.current?.focus()
    onStored(changeOf(`Entered: ${wasStored.says}`, [wasStored.run]))
  }, [wasStored, onStored])

  const take = (place: number) => {
    const offer = offers[place]
    if (offer) entry.type(offer.line)
    setChosen(0)
  }
  const pressed = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown" && open) setChosen((chosen + 1) % offers.length)
    else if (event.key === "ArrowUp" && open)
      setChosen((chosen + offers.length - 1) % offers.length)
    else if (event.key === "Tab" && open && !event.shiftKey && entry.line) take(chosen)
    else if (event.key === "Enter") {
      void entry.enter(open ? chosen : 0)
      setChosen(0)
    } else return
    event.preventDefault()
  }
  return (
    <div className="relative mb-4 max-w-3xl">
      <label htmlFor={`${list}-field`} className="mb-1 block text-[13px] text-mute">
        Enter a run: setup / task / time, then how it was read (hand, log, recording, remembered)
      </label>
      <input
        id={`${list}-field`}
        ref={field}
        role="combobox"
        aria-expanded={open}
        aria-controls={list}
        aria-activedescendant={open ? offerId(list, chosen) : undefined}
        aria-describedby={answer}
        autoComplete="off"
        spellCheck={false}
        // biome-ignore lint/a11y/noAutofocus: entering runs is what this stage is for
        autoFocus
        maxLength={500}
        className="figure input w-full bg-page text-[16px]"
        placeholder="halyard l / parade / 6:17 log"
        value={entry.line}
        onChange={(event) => {
          entry.type(event.target.value)
          setChosen(0)
        }}
        onFocus={() => setFocused(true)}
        onBlur={() => setFocused(false)}
        onKeyDown={pressed}
      />
      {open && (
        <OfferList
          id={list}
          label="Names that fit"
          offers={offers.map(({ name }) => ({ words: name }))}
          chosen={chosen}
          onTake={take}
          className="w-full"
        />
      )}
      <div id={answer} className={`min-h-6 pt-1 ${open ? "invisible" : ""}`}>
        <EntryAnswer entry={entry} />
        <ProblemNote error={entry.error} />
      </div>
    </div>
  )
}

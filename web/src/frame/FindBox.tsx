import { type KeyboardEvent, useEffect, useId, useRef, useState } from "react"
import { KeyCap } from "../parts/KeyCap"
import { OfferList, offerId } from "../parts/OfferList"
import { useFind } from "./useFind"

/** Finds a machine, task or stage, or does something; Ctrl K from anywhere. */
export function FindBox({ slug, flipTheme }: { slug: string; flipTheme: () => void }) {
  const [text, setText] = useState("")
  const [open, setOpen] = useState(false)
  const [chosen, setChosen] = useState(0)
  const field = useRef<HTMLInputElement>(null)
  const list = useId()
  const found = useFind(slug, text, flipTheme)
  useEffect(() => {
    const call = (event: globalThis.KeyboardEvent) => {
      if ((event.ctrlKey || event.metaKey) && event.key.toLowerCase() === "k") {
        event.preventDefault()
        field.current?.focus()
      }
    }
    window.addEventListener("keydown", call)
    return () => window.removeEventListener("keydown", call)
  }, [])
  const leave = () => {
    setOpen(false)
    setText("")
    setChosen(0)
    field.current?.blur()
  }
  const pick = (place: number) => {
    found[place]?.go()
    leave()
  }
  const pressed = (event: KeyboardEvent) => {
    if (event.key === "ArrowDown") setChosen(Math.min(chosen + 1, found.length - 1))
    else if (event.key === "ArrowUp") setChosen(Math.max(chosen - 1, 0))
    else if (event.key === "Enter") pick(chosen)
    else if (event.key === "Escape") leave()
    else return
    event.preventDefault()
  }
  return (
    <div className="relative hidden w-44 shrink-0 lg:block">
      <input
        ref={field}
        role="combobox"
        aria-label="Find or do"
        aria-expanded={open}
        aria-controls={list}
        aria-activedescendant={open ? offerId(list, chosen) : undefined}
        placeholder="Find or do…"
        className="h-8 w-full border-b border-line bg-transparent pr-16 text-[13px] placeholder:text-mute"
        value={text}
        onFocus={() => setOpen(true)}
        onBlur={() => setOpen(false)}
        onChange={(event) => {
          setText(event.target.value)
          setChosen(0)
        }}
        onKeyDown={pressed}
      />
      <span className="pointer-events-none absolute top-1.5 right-1 flex gap-1">
        <KeyCap>Ctrl K</KeyCap>
      </span>
      {open && (
        <OfferList
          id={list}
          label="What can be found or done"
          offers={found}
          chosen={chosen}
          onTake={pick}
          className="top-9 right-0 w-80"
        />
      )}
    </div>
  )
}

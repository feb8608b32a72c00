import { useEffect, useRef, useState } from "react"
import { KeyCap } from "../parts/KeyCap"
import { OfferList } from "../parts/OfferList"
import { useOffers } from "../parts/useOffers"
import { goTo, placeBefore } from "../reach/focus"
import { useFind } from "./useFind"

/** Finds a machine, task or stage, or does something; Ctrl K from anywhere. */
export function FindBox({ slug, flipTheme }: { slug: string; flipTheme: () => void }) {
  const [text, setText] = useState("")
  const [open, setOpen] = useState(false)
  const field = useRef<HTMLInputElement>(null)
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
    const back = placeBefore()
    if (back) goTo(back)
    else field.current?.blur()
  }
  const offers = useOffers({
    offers: found,
    text,
    open,
    onType: setText,
    onTake: (place) => {
      leave()
      found[place]?.go()
    },
  })
  return (
    <div className="relative hidden w-44 shrink-0 lg:block">
      <input
        {...offers.field({
          ref: field,
          "aria-label": "Find or do",
          onFocus: () => setOpen(true),
          onBlur: () => setOpen(false),
          onKeyDown: (event) => {
            if (event.key === "Escape") leave()
          },
        })}
        placeholder="Search or type a command…"
        className="h-8 w-full border-b border-line bg-transparent pr-16 text-13 placeholder:text-mute"
      />
      <span className="pointer-events-none absolute top-1.5 right-1 flex gap-1">
        <KeyCap>Ctrl K</KeyCap>
      </span>
      <OfferList
        of={offers}
        label="What can be found or done"
        offers={found}
        open={open}
        className="top-9 right-0 w-80"
      />
    </div>
  )
}

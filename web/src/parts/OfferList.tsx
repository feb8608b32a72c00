export type Offer = {
  words: string
  /** Small word at the right, such as what kind of thing it is. */
  kind?: string
}

/** What fits the text typed so far; belongs to a combobox field with `aria-controls`. */
export function OfferList({
  id,
  label,
  offers,
  chosen,
  onTake,
  className,
}: {
  id: string
  label: string
  offers: Offer[]
  /** Place of the highlighted offer. */
  chosen: number
  onTake: (place: number) => void
  className: string
}) {
  return (
    <div
      id={id}
      role="listbox"
      tabIndex={-1}
      aria-label={label}
      className={`absolute z-40 border border-base-content bg-page py-1 ${className}`}
    >
      {offers.map(({ words, kind }, place) => (
        <div
          key={`${kind ?? ""} ${words}`}
          id={offerId(id, place)}
          role="option"
          tabIndex={-1}
          aria-selected={place === chosen}
          className={`flex cursor-pointer gap-3 px-3 py-1 ${place === chosen ? "bg-band" : ""}`}
          onMouseDown={(event) => {
            event.preventDefault()
            onTake(place)
          }}
        >
          <span className="min-w-0 flex-1 truncate">{words}</span>
          {kind && <span className="text-[12px] text-mute">{kind}</span>}
        </div>
      ))}
      {offers.length === 0 && <p className="px-3 py-1 text-mute">Nothing is called that.</p>}
    </div>
  )
}

export function offerId(list: string, place: number): string {
  return `${list}-${place}`
}

import type { useOffers } from "./useOffers"

export type Offer = {
  words: string
  /** Small word at the right, such as what kind of thing it is. */
  kind?: string
}

/** What fits the text typed so far; belongs to a field of ``useOffers``. */
export function OfferList<Each extends Offer>({
  of,
  label,
  offers,
  open,
  className,
}: {
  /** The field that it belongs to. */
  of: ReturnType<typeof useOffers<Each>>
  label: string
  offers: Each[]
  open: boolean
  className: string
}) {
  const { getMenuProps, getItemProps } = of.combobox
  return (
    <div
      {...getMenuProps({ "aria-label": label, "aria-labelledby": undefined })}
      hidden={!open}
      className={`absolute z-40 border border-base-content bg-page py-1 ${className}`}
    >
      {open &&
        offers.map((offer, place) => (
          <div
            key={`${offer.kind ?? ""} ${offer.words}`}
            {...getItemProps({ item: offer, index: place })}
            className={`flex cursor-pointer gap-3 px-3 py-1 ${place === of.chosen ? "bg-band" : ""}`}
          >
            <span className="min-w-0 flex-1 truncate">{offer.words}</span>
            {offer.kind && <span className="text-12 text-mute">{offer.kind}</span>}
          </div>
        ))}
      {open && offers.length === 0 && (
        <p className="px-3 py-1 text-mute">Nothing is called that.</p>
      )}
    </div>
  )
}

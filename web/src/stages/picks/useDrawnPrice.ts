import { type PointerEvent, useState } from "react"
import { typeScale } from "../../theme/rem"
import type { Drawing } from "./PriceMark"
import { LEFT, type PriceField } from "./priceField"

/**
 * Drawing a mark along the price axis. The scale stands still meanwhile: `most` is the dearest
 * price in view as it was when the drawing began.
 */
export function useDrawnPrice() {
  const [drawn, setDrawn] = useState<{ id: string; most: number } | null>(null)
  const priceUnder = (event: PointerEvent<SVGElement>, field: PriceField) => {
    const edge = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    return field.priceAt((event.clientX - (edge?.left ?? LEFT)) / typeScale())
  }
  /** What a pointer does with the mark of a setup; each move tries a price. */
  const drawing = (id: string, field: PriceField, onTry: (price: number) => void): Drawing => ({
    onPointerDown: (event) => {
      event.currentTarget.setPointerCapture(event.pointerId)
      setDrawn({ id, most: field.most })
    },
    onPointerMove: (event) => {
      if (drawn?.id === id) onTry(priceUnder(event, field))
    },
    onPointerUp: () => setDrawn(null),
    onPointerCancel: () => setDrawn(null),
  })
  return { most: drawn?.most ?? null, drawing }
}

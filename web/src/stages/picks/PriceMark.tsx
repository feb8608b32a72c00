import type { PointerEvent } from "react"
import { markOf } from "../../parts/SetupMark"
import { money, ratio } from "../../theme/format"
import type { PlacedName, Priced, PriceField } from "./priceField"

/** An interval of speed, standing: square ends like a caliper's. */
export function SpeedJaw({
  field,
  row,
}: {
  field: PriceField
  /** The setup whose interval it is. */
  row: Priced
}) {
  const [x, lo, hi] = [field.x(row.amount), field.y(row.lo), field.y(row.hi)]
  return (
    <path
      d={`M${x - 5} ${lo} H${x + 5} M${x} ${lo} V${hi} M${x - 5} ${hi} H${x + 5}`}
      stroke="var(--color-base-content)"
      strokeWidth="1.5"
      fill="none"
    />
  )
}

/** The name of a setup, readable on whatever lies below it. */
export function SetupName({ name }: { name: PlacedName }) {
  return (
    <text
      x={name.x}
      y={name.y}
      fontSize="12"
      fontWeight="600"
      fill="var(--color-base-content)"
      stroke="var(--color-base-100)"
      strokeWidth="4"
      paintOrder="stroke"
    >
      {name.label}
    </text>
  )
}

/** Draws along: what a pointer does with a mark. */
export type Drawing = {
  onPointerDown: (event: PointerEvent<SVGElement>) => void
  onPointerMove: (event: PointerEvent<SVGElement>) => void
  onPointerUp: () => void
  onPointerCancel: () => void
}

/** A setup in the field; the pick is ringed. */
export function PriceMark({
  field,
  row,
  mark,
  currency,
  picked,
  drawing,
}: {
  field: PriceField
  row: Priced
  /** Its colour and shape, by number. */
  mark: number
  currency: string
  picked: boolean
  drawing: Drawing
}) {
  const { color, shape } = markOf(mark)
  const [cx, cy] = [field.x(row.amount), field.y(row.ratio)]
  return (
    <g
      data-setup={row.label}
      className={row.keep ? undefined : "cursor-ew-resize"}
      {...(row.keep ? {} : drawing)}
    >
      <title>
        {row.label}: {money(row.amount)} {currency}, {ratio(row.ratio)}×
      </title>
      {picked && (
        <circle cx={cx} cy={cy} r="17" fill="none" stroke="var(--color-accent)" strokeWidth="2.5" />
      )}
      <circle cx={cx} cy={cy} r="15" fill="transparent" />
      <g transform={`translate(${cx - 7} ${cy - 7}) scale(0.875)`} fill={color}>
        {shape}
      </g>
    </g>
  )
}

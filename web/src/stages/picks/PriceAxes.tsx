import { useId } from "react"
import { compact, money } from "../../theme/format"
import { BOTTOM, HEIGHT, LEFT, type PriceField, RIGHT, TOP } from "./priceField"

/** The two axes of the field: price to the right, times as fast upwards, 1× drawn through. */
export function PriceAxes({
  field,
  currency,
}: {
  field: PriceField
  /** Of the prices. */
  currency: string
}) {
  const { x, y, width, speed, prices } = field
  return (
    <>
      {speed.ticks.map((tick) => (
        <g key={tick}>
          <line
            x1={LEFT - 6}
            x2={tick === 1 ? width - RIGHT : LEFT}
            y1={y(tick)}
            y2={y(tick)}
            stroke={tick === 1 ? "var(--color-base-300)" : "var(--color-base-content)"}
          />
          <text
            x={LEFT - 9}
            y={y(tick) + 4}
            textAnchor="end"
            fontSize="12"
            className="figure"
            fontWeight={tick === 1 ? 700 : 400}
            fill={tick === 1 ? "var(--color-base-content)" : "var(--tm-mute)"}
          >
            {compact(tick)}×
          </text>
        </g>
      ))}
      <path
        d={`M${LEFT} ${TOP} V${BOTTOM} H${width - RIGHT}`}
        fill="none"
        stroke="var(--color-base-content)"
      />
      {prices.map((tick) => (
        <g key={tick}>
          <line
            x1={x(tick)}
            x2={x(tick)}
            y1={BOTTOM}
            y2={BOTTOM + 5}
            stroke="var(--color-base-content)"
          />
          <text
            x={x(tick)}
            y={BOTTOM + 18}
            textAnchor="middle"
            fontSize="12"
            className="figure"
            fill="var(--tm-mute)"
          >
            {money(tick)}
          </text>
        </g>
      ))}
      <text x={width - RIGHT} y={HEIGHT - 8} textAnchor="end" fontSize="12" fill="var(--tm-mute)">
        {currency}
      </text>
    </>
  )
}

/** What the budget does not reach: hatched from its line on. */
export function OverBudget({
  field,
  budget,
}: {
  field: PriceField
  /** In the viewer's currency. */
  budget: number
}) {
  const hatch = useId()
  const from = field.x(budget)
  return (
    <>
      <defs>
        <pattern
          id={hatch}
          width="9"
          height="9"
          patternUnits="userSpaceOnUse"
          patternTransform="rotate(45)"
        >
          <rect width="1" height="9" fill="var(--color-base-300)" />
        </pattern>
      </defs>
      <rect
        x={from}
        y={TOP}
        width={field.width - RIGHT - from}
        height={BOTTOM - TOP}
        fill={`url(#${hatch})`}
      />
      <line
        x1={from}
        x2={from}
        y1={TOP}
        y2={BOTTOM}
        stroke="var(--color-base-content)"
        strokeDasharray="2 3"
      />
      <text x={from + 5} y={BOTTOM - 7} fontSize="12" fill="var(--tm-mute)">
        over the budget
      </text>
    </>
  )
}

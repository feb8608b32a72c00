import { type PointerEvent, useId, useState } from "react"
import type { Schemas } from "../../api/client"
import { fitScale } from "../../parts/rule/scale"
import { markOf } from "../../parts/SetupMark"
import { useWidth } from "../../parts/useWidth"
import { compact, money, ratio } from "../../theme/format"

const HEIGHT = 380
const [LEFT, RIGHT, TOP, BELOW] = [44, 14, 14, 44]

type Priced = Schemas["PickRow"] & { amount: number }

/**
 * Price against speed: the rule turned upright, so that higher is faster, with the frontier as a
 * stepped line and what the budget does not reach hatched. A mark can be drawn along to try
 * another price.
 */
export function PriceSpeed({
  view,
  budget,
  placeOf,
  onTry,
}: {
  view: Schemas["PickView"]
  budget: number | null
  /** Mark of a setup by id. */
  placeOf: (id: string) => number
  /** Tries a price for a setup. */
  onTry: (row: Schemas["PickRow"], price: number) => void
}) {
  const hatch = useId()
  const [box, width] = useWidth(470)
  const [drawn, setDrawn] = useState<{ id: string; most: number } | null>(null)
  const rows: Priced[] = view.rows
    .filter((row) => row.price.amount !== null)
    .map((row) => ({ ...row, amount: Number(row.price.amount) }))
  const unpriced = view.rows.filter((row) => row.price.amount === null)
  if (rows.length === 0) {
    return (
      <p className="py-8 text-[13px] text-mute">
        Nothing to draw: no setup that did this work has a price.
      </p>
    )
  }
  const speed = fitScale(
    rows.flatMap((row) => [row.lo, row.hi]),
    6,
  )
  // The scale stands still while a mark is drawn along it.
  const most = drawn?.most ?? 1.08 * Math.max(...rows.map((row) => row.amount), budget ?? 0, 1)
  const x = (price: number) => LEFT + (price / most) * (width - LEFT - RIGHT)
  const y = (value: number) => TOP + (1 - speed.at(value)) * (HEIGHT - TOP - BELOW)
  const bottom = HEIGHT - BELOW
  const ticks = priceTicks(most, Math.max(2, Math.floor((width - LEFT) / 80)))
  const frontier = rows.filter((row) => row.frontier).sort((a, b) => a.amount - b.amount)
  const steps = frontier
    .map((row, at) =>
      at === 0
        ? `M${x(row.amount)} ${bottom} V${y(row.ratio)}`
        : `H${x(row.amount)} V${y(row.ratio)}`,
    )
    .join(" ")
  const priceAt = (event: PointerEvent<SVGElement>) => {
    const edge = event.currentTarget.ownerSVGElement?.getBoundingClientRect()
    const part = (event.clientX - (edge?.left ?? 0) - LEFT) / (width - LEFT - RIGHT)
    return Math.max(0, Math.round((part * most) / 10) * 10)
  }
  return (
    <div ref={box} className="min-w-0">
      <svg
        width={width}
        height={HEIGHT}
        className="block touch-pan-y overflow-visible"
        role="img"
        aria-label={`Price against speed, in times as fast as ${view.reference}. ${rows
          .map((row) => `${row.label}: ${money(row.amount)} ${view.currency}, ${ratio(row.ratio)}×`)
          .join("; ")}`}
      >
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
        {budget !== null && budget < most && (
          <>
            <rect
              x={x(budget)}
              y={TOP}
              width={width - RIGHT - x(budget)}
              height={bottom - TOP}
              fill={`url(#${hatch})`}
            />
            <line
              x1={x(budget)}
              x2={x(budget)}
              y1={TOP}
              y2={bottom}
              stroke="var(--color-base-content)"
              strokeDasharray="2 3"
            />
            <text x={x(budget) + 5} y={bottom - 7} fontSize="12" fill="var(--tm-mute)">
              over the budget
            </text>
          </>
        )}
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
          d={`M${LEFT} ${TOP} V${bottom} H${width - RIGHT}`}
          fill="none"
          stroke="var(--color-base-content)"
        />
        {ticks.map((tick) => (
          <g key={tick}>
            <line
              x1={x(tick)}
              x2={x(tick)}
              y1={bottom}
              y2={bottom + 5}
              stroke="var(--color-base-content)"
            />
            <text
              x={x(tick)}
              y={bottom + 18}
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
          {view.currency}
        </text>
        <path d={steps} fill="none" stroke="var(--tm-mute)" strokeWidth="1.5" />
        {rows.map((row) => (
          <Jaw key={row.setup_id} x={x(row.amount)} lo={y(row.lo)} hi={y(row.hi)} />
        ))}
        {names(rows, x, y, width - RIGHT).map((name) => (
          <text
            key={name.id}
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
        ))}
        {rows.map((row) => {
          const { color, shape } = markOf(placeOf(row.setup_id))
          const [cx, cy] = [x(row.amount), y(row.ratio)]
          return (
            <g
              key={row.setup_id}
              data-setup={row.label}
              className={row.keep ? undefined : "cursor-ew-resize"}
              onPointerDown={(event) => {
                if (row.keep) return
                event.currentTarget.setPointerCapture(event.pointerId)
                setDrawn({ id: row.setup_id, most })
              }}
              onPointerMove={(event) => {
                if (drawn?.id === row.setup_id) onTry(row, priceAt(event))
              }}
              onPointerUp={() => setDrawn(null)}
              onPointerCancel={() => setDrawn(null)}
            >
              <title>
                {row.label}: {money(row.amount)} {view.currency}, {ratio(row.ratio)}×
              </title>
              {view.picked?.setup_id === row.setup_id && (
                <circle
                  cx={cx}
                  cy={cy}
                  r="17"
                  fill="none"
                  stroke="var(--color-accent)"
                  strokeWidth="2.5"
                />
              )}
              <circle cx={cx} cy={cy} r="15" fill="transparent" />
              <g transform={`translate(${cx - 7} ${cy - 7}) scale(0.875)`} fill={color}>
                {shape}
              </g>
            </g>
          )
        })}
      </svg>
      {unpriced.length > 0 && (
        <p className="text-[13px] text-mute">
          No price, so not drawn: {unpriced.map((row) => row.label).join(", ")}.
        </p>
      )}
    </div>
  )
}

/** An interval, standing: square ends like a caliper's. */
function Jaw({ x, lo, hi }: { x: number; lo: number; hi: number }) {
  return (
    <path
      d={`M${x - 5} ${lo} H${x + 5} M${x} ${lo} V${hi} M${x - 5} ${hi} H${x + 5}`}
      stroke="var(--color-base-content)"
      strokeWidth="1.5"
      fill="none"
    />
  )
}

function priceTicks(most: number, wanted: number): number[] {
  const rough = most / wanted
  const size = 10 ** Math.floor(Math.log10(rough))
  const step = [1, 2, 5, 10].map((n) => n * size).find((n) => n >= rough) ?? rough
  return Array.from({ length: Math.floor(most / step) + 1 }, (_, at) => at * step)
}

type Name = { id: string; label: string; x: number; y: number }

/**
 * Names beside the marks: at the right, else at the left, above or below, wherever a name lies on
 * no mark and on no other name.
 */
function names(
  rows: Priced[],
  x: (price: number) => number,
  y: (value: number) => number,
  end: number,
): Name[] {
  const marks = rows.map((row) => ({ x: x(row.amount), y: y(row.ratio) }))
  const taken: Box[] = marks.map((mark) => around(mark.x - 9, mark.x + 9, mark.y, 18))
  const placed: Name[] = []
  for (const row of [...rows].sort((a, b) => y(a.ratio) - y(b.ratio))) {
    const label = row.keep ? `keep ${row.label}` : row.label
    const long = 6.9 * label.length
    const [cx, cy] = [x(row.amount), y(row.ratio)]
    const mark = marks[rows.indexOf(row)]
    const middle = Math.min(Math.max(cx - long / 2, LEFT + 4), end - long)
    const tries: [number, number][] = [
      [cx + 21, cy],
      [cx - 21 - long, cy],
      [middle, cy - 24],
      [middle, cy + 24],
      [cx + 21, cy + 16],
      [cx - 21 - long, cy + 16],
      [middle, cy + 38],
    ]
    const free = tries.find(([from, line]) => {
      // Nothing may stand between a mark and its name either.
      const own = around(Math.min(from, cx + 10), Math.max(from + long, cx - 10), line, 13)
      return (
        from >= LEFT &&
        from + long <= end &&
        !taken.some((box, at) => marks[at] !== mark && meet(box, own))
      )
    })
    const [from, line] = free ?? [middle, cy + 38]
    taken.push(around(from, from + long, line, 13))
    placed.push({ id: row.setup_id, label, x: from, y: line + 4 })
  }
  return placed
}

type Box = { left: number; right: number; top: number; bottom: number }

function around(left: number, right: number, line: number, height: number): Box {
  return { left, right, top: line - height / 2, bottom: line + height / 2 }
}

function meet(one: Box, other: Box): boolean {
  return (
    one.left < other.right &&
    one.right > other.left &&
    one.top < other.bottom &&
    one.bottom > other.top
  )
}

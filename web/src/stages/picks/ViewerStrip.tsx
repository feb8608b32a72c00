import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { fitScale } from "../../parts/rule/scale"
import { markOf } from "../../parts/SetupMark"

const [WIDTH, HEIGHT, PAD] = [108, 60, 7]

/** All viewers at once: who should buy what, each with a small picture of the field. */
export function ViewerStrip({
  slug,
  cards,
  current,
  view,
  placeOf,
}: {
  slug: string
  cards: Schemas["ViewerCard"][]
  /** Id of the viewer that is open. */
  current: string
  /** The view that stays open. */
  view: string | undefined
  placeOf: (id: string) => number
}) {
  return (
    <nav
      aria-label="All viewers"
      className="grid grid-cols-[repeat(auto-fill,minmax(7rem,1fr))] gap-x-3 gap-y-4 border-t border-line pt-4"
    >
      {cards.map((card) => (
        <Link
          key={card.viewer.id}
          to="/s/$slug/picks"
          params={{ slug }}
          search={{ viewer: card.viewer.id, ...(view ? { view } : {}) }}
          aria-current={card.viewer.id === current ? "page" : undefined}
          className={`block min-w-0 border-l-[3px] pl-2 ${
            card.viewer.id === current ? "border-accent" : "border-transparent"
          }`}
        >
          <span className="block text-13 break-words text-mute">{card.viewer.name}</span>
          <MiniField card={card} placeOf={placeOf} />
          <span className="block text-15 font-bold break-words">
            {card.pick ? `${card.keep ? "Keep" : "Buy"} ${card.pick}` : "No pick"}
          </span>
          <span className="block text-12 text-mute">{below(card)}</span>
        </Link>
      ))}
    </nav>
  )
}

/** What a tile adds to its pick: why there is none, or how sure it is where it is not sure. */
function below(card: Schemas["ViewerCard"]): string {
  if (card.prob_best === null) return card.problem?.words ?? ""
  return card.prob_best >= 0.9 ? "" : `${inHundred(card.prob_best)} likely`
}

/** As the sentences have it: never more certain than the draws are. */
export function inHundred(chance: number): string {
  if (chance > 0.995) return "over 99 %"
  return chance < 0.005 ? "under 1 %" : `${Math.round(100 * chance)} %`
}

/** Price to the right, speed upwards, the frontier stepped, the pick ringed. */
function MiniField({
  card,
  placeOf,
}: {
  card: Schemas["ViewerCard"]
  placeOf: (id: string) => number
}) {
  if (card.points.length === 0) {
    return <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="block" />
  }
  const points = card.points.map((point) => ({ ...point, amount: Number(point.price) }))
  const budget = card.viewer.budget === null ? null : Number(card.viewer.budget)
  const scale = fitScale(points.map((point) => point.ratio))
  const most = Math.max(...points.map((point) => point.amount), 1) * 1.06
  const x = (price: number) => PAD + (price / most) * (WIDTH - 2 * PAD)
  const y = (value: number) => PAD + (1 - scale.at(value)) * (HEIGHT - 2 * PAD)
  const steps = points
    .filter((point) => point.frontier)
    .sort((a, b) => a.amount - b.amount)
    .map(
      (point, at) =>
        `${at === 0 ? "M" : "H"}${x(point.amount)} ${at === 0 ? "" : "V"}${y(point.ratio)}`,
    )
    .join(" ")
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="my-1 block max-w-full">
      <path d={`M${PAD} 0 V${HEIGHT - 2} H${WIDTH}`} fill="none" stroke="var(--color-base-300)" />
      {budget !== null && budget < most && (
        <line
          x1={x(budget)}
          x2={x(budget)}
          y1="0"
          y2={HEIGHT - 2}
          stroke="var(--color-base-content)"
          strokeDasharray="2 3"
        />
      )}
      <path d={steps} fill="none" stroke="var(--tm-mute)" />
      {points.map((point) => {
        const { color, shape } = markOf(placeOf(point.setup_id))
        return (
          <g
            key={point.setup_id}
            transform={`translate(${x(point.amount) - 4} ${y(point.ratio) - 4}) scale(0.5)`}
            fill={color}
            opacity={point.open || point.picked ? 1 : 0.45}
          >
            {shape}
            {point.picked && (
              <circle
                cx="8"
                cy="8"
                r="15"
                fill="none"
                stroke="var(--color-accent)"
                strokeWidth="4"
              />
            )}
          </g>
        )
      })}
    </svg>
  )
}

import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { lineupQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import type { Setups } from "./useCardDraft"

/** Which setups stand on a card, which first, which marked; those left out are counted on it. */
export function CardSetups({
  slug,
  view,
  chosen,
  onChange,
}: {
  slug: string
  view: Schemas["CardView"]
  /** As it is asked for by now, kept or not. */
  chosen: Setups
  onChange: (setups: Setups) => void
}) {
  const setups = useQuery(lineupQuery(slug)).data?.setups ?? []
  const placeOf = useSetupPlaces(slug)
  const marked = chosen.highlighted ?? []
  const out = chosen.left_out ?? []
  // Others follow the chosen order as they stand on the card.
  const first = (chosen.order ?? []).filter((id) => view.setup_ids.includes(id))
  const order = [...first, ...view.setup_ids.filter((id) => !first.includes(id))]
  const flip = (list: string[], id: string) =>
    list.includes(id) ? list.filter((each) => each !== id) : [...list, id]
  const move = (at: number, by: number) => {
    const ids = [...order]
    const [one] = ids.splice(at, 1)
    if (one) ids.splice(at + by, 0, one)
    onChange({ order: ids })
  }
  return (
    <fieldset className="min-w-0">
      <legend className="text-13 text-mute">Setups on it</legend>
      <table className="w-full text-13">
        <thead>
          <tr className="text-left text-12 text-mute">
            <th scope="col" className="pr-2 font-normal">
              shown
            </th>
            <th scope="col" className="pr-2 font-normal">
              marked
            </th>
            <th scope="col" className="pr-2 font-normal">
              setup
            </th>
            <th scope="col">
              <span className="sr-only">order</span>
            </th>
          </tr>
        </thead>
        <tbody>
          {order.map((id, at) => {
            const label = setups.find((each) => each.id === id)?.label ?? "?"
            return (
              <SetupLine
                key={id}
                label={label}
                place={placeOf(id)}
                shown={!out.includes(id)}
                marked={marked.includes(id)}
                first={at === 0}
                last={at === order.length - 1}
                onShow={() => onChange({ left_out: flip(out, id) })}
                onMark={() => onChange({ highlighted: flip(marked, id) })}
                onMove={(by) => move(at, by)}
              />
            )
          })}
        </tbody>
      </table>
      {(chosen.order ?? []).length > 0 && (
        <button
          type="button"
          className="mt-1 text-13 text-mute underline"
          onClick={() => onChange({ order: [] })}
        >
          Order by speed again
        </button>
      )}
    </fieldset>
  )
}

/** One setup: whether it stands on the card, whether it is marked, its place. */
function SetupLine({
  label,
  place,
  shown,
  marked,
  first,
  last,
  onShow,
  onMark,
  onMove,
}: {
  label: string
  place: number
  shown: boolean
  marked: boolean
  first: boolean
  last: boolean
  onShow: () => void
  onMark: () => void
  onMove: (by: number) => void
}) {
  return (
    <tr className="border-t border-line">
      <td className="py-1">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={`Show ${label}`}
          checked={shown}
          onChange={onShow}
        />
      </td>
      <td>
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          aria-label={`Mark ${label}`}
          checked={marked}
          onChange={onMark}
        />
      </td>
      <td className="min-w-0">
        <span className="flex items-center gap-1.5">
          <SetupMark index={place} size={11} />
          <span className="break-words">{label}</span>
        </span>
      </td>
      <td className="text-right whitespace-nowrap">
        <ActButton
          type="button"
          className="w-6 text-mute disabled:opacity-40"
          aria-label={`Move ${label} up`}
          needs={first && "It is the first."}
          onClick={() => onMove(-1)}
        >
          ↑
        </ActButton>
        <ActButton
          type="button"
          className="w-6 text-mute disabled:opacity-40"
          aria-label={`Move ${label} down`}
          needs={last && "It is the last."}
          onClick={() => onMove(1)}
        >
          ↓
        </ActButton>
      </td>
    </tr>
  )
}

import { useState } from "react"
import type { Schemas } from "../../api/client"
import { useKeep } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { Fold } from "../../parts/Fold"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"

type Machine = Schemas["MachineOffer"]
type Task = Schemas["TaskOffer"]

const keyOf = (offer: Machine | Task) =>
  `${"app" in offer ? `task ${offer.app}` : "machine"} ${offer.demo} ${offer.name}`

/** Only what several shootouts share, or what the store room has, is chosen beforehand. */
const plain = (offer: Machine | Task) =>
  offer.differences.length === 0 &&
  (offer.uses.length > 1 || ("app" in offer ? offer.standing_id : offer.machine_id) !== null)

/** Machines and tasks that carry one name in several shootouts: kept as one where one says so. */
export function Offers({ room }: { room: Schemas["Room"] }) {
  const offers = [...room.machine_offers, ...room.task_offers]
  const [said, setSaid] = useState<Record<string, boolean>>({})
  const keep = useKeep()
  const chosen = (offer: Machine | Task) => said[keyOf(offer)] ?? plain(offer)
  const machines = room.machine_offers.filter(chosen)
  const tasks = room.task_offers.filter(chosen)
  if (offers.length === 0) return null
  const send = () =>
    keep.mutate(
      {
        machines: machines.map((each) => ({
          name: each.name,
          machine_id: each.machine_id,
          setup_ids: each.uses.map((use) => use.id),
        })),
        tasks: tasks.map((each) => ({
          name: each.name,
          standing_id: each.standing_id,
          task_ids: each.uses.map((use) => use.id),
        })),
      },
      { onSuccess: () => setSaid({}) },
    )
  const set = (offer: Machine | Task, to: boolean) => setSaid({ ...said, [keyOf(offer)]: to })
  const form = (
    <>
      <p className="text-13 text-mute">
        Found by name in your shootouts. Tick those that are one machine, or one job kept unchanged;
        nothing is joined without your yes.
      </p>
      <div
        className={`mt-2 grid gap-x-8 ${room.machine_offers.length && room.task_offers.length ? "md:grid-cols-2" : ""}`}
      >
        <OfferGroup title="Machines" offers={room.machine_offers} chosen={chosen} onChoose={set} />
        <OfferGroup title="Tasks" offers={room.task_offers} chosen={chosen} onChoose={set} />
      </div>
      <ProblemNote error={keep.error} />
      <ActButton
        type="button"
        className="btn btn-primary btn-sm mt-3"
        busy={keep.isPending}
        needs={machines.length + tasks.length === 0 && "Choose at least one."}
        onClick={send}
      >
        {machines.length + tasks.length === 0
          ? "Tick what to keep"
          : `Keep ${[
              machines.length && count(machines.length, "machine"),
              tasks.length && count(tasks.length, "task"),
            ]
              .filter(Boolean)
              .join(" and ")}`}
      </ActButton>
    </>
  )
  // What nothing speaks for but a name waits below; what comes back is asked about at once.
  if (!offers.some(plain)) {
    return <Fold title={`Not kept yet: ${count(offers.length, "name")}`}>{form}</Fold>
  }
  return (
    <section className="mt-5 border border-base-content bg-page p-4" aria-label="Not kept yet">
      <h2 className="text-17">Not kept yet</h2>
      {form}
    </section>
  )
}

/** Whether something offered comes back in several shootouts, or is in the store room already. */
export const comesBack = (room: Schemas["Room"]) =>
  [...room.machine_offers, ...room.task_offers].some(plain)

function OfferGroup<Offer extends Machine | Task>({
  title,
  offers,
  chosen,
  onChoose,
}: {
  title: string
  offers: Offer[]
  chosen: (offer: Offer) => boolean
  onChoose: (offer: Offer, to: boolean) => void
}) {
  if (offers.length === 0) return null
  return (
    <fieldset className="min-w-0">
      <legend className="text-13 text-mute">{title}</legend>
      <ul>
        {offers.map((offer) => (
          <li key={keyOf(offer)} className="border-t border-line">
            <label className="flex items-start gap-2 py-1.5">
              <input
                type="checkbox"
                className="checkbox checkbox-sm mt-0.5"
                checked={chosen(offer)}
                onChange={(event) => onChoose(offer, event.target.checked)}
              />
              <span className="min-w-0 break-words">
                <span className="font-bold">{offer.name}</span>{" "}
                <span className="text-13 text-mute">
                  {"app" in offer && `in ${offer.app}, `}
                  {whereOf(offer.uses)}
                  {offer.demo && " (demo)"}
                </span>
                {offer.differences.length > 0 && (
                  <span className="block text-13 text-accent">
                    Not alike: {offer.differences.join("; ")}
                  </span>
                )}
              </span>
            </label>
          </li>
        ))}
      </ul>
    </fieldset>
  )
}

function whereOf(uses: Schemas["OfferedUse"][]): string {
  const names = [...new Set(uses.map((use) => use.shootout))]
  const first = names.slice(0, 2).join(", ")
  return names.length > 2 ? `${first} and ${names.length - 2} more` : first
}

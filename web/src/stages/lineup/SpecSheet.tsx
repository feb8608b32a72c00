import { useOrderMachines } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { MachineHead } from "./MachineHead"
import { movedBefore } from "./order"
import { PriceCell } from "./PriceCell"
import { SpecCell } from "./SpecCell"

/** Machines as columns, specs as rows; setups as sub-columns that show what differs. */
export function SpecSheet({
  slug,
  lineup,
  differing,
  onOpen,
}: {
  slug: string
  lineup: Schemas["LineUp"]
  /** Show only the rows whose values differ. */
  differing: boolean
  onOpen: (machineId: string) => void
}) {
  const placeOf = useSetupPlaces(slug)
  const order = useOrderMachines(slug)
  const ids = lineup.columns.map((column) => column.machine.id)
  const rows = lineup.rows.filter((row) => row.differs || !differing)
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-collapse text-[14px]">
        <thead>
          <tr className="border-b border-line align-bottom">
            <th className="sticky left-0 z-10 w-24 min-w-24 bg-base-100">
              <span className="sr-only">Row</span>
            </th>
            {lineup.columns.map(({ machine }) => (
              <MachineHead
                key={machine.id}
                machine={machine}
                placeOf={placeOf}
                onOpen={() => onOpen(machine.id)}
                onDrop={(dropped) => order.mutate(movedBefore(ids, dropped, machine.id))}
              />
            ))}
          </tr>
        </thead>
        <tbody>
          {rows.map((row) => (
            <tr key={row.field} className="border-b border-line">
              <th
                scope="row"
                className="sticky left-0 z-10 bg-base-100 py-1 pr-2 text-left align-top text-[13px] leading-5 font-normal text-mute"
              >
                {row.title}
                {row.differs && (
                  <span className="ml-1 text-base-content" title="not the same everywhere">
                    ≠
                  </span>
                )}
              </th>
              {lineup.columns.map(({ machine }) => (
                <td key={machine.id} className="max-w-64 border-l border-line px-1 align-top">
                  <SpecCell slug={slug} row={row} machine={machine} />
                </td>
              ))}
            </tr>
          ))}
          <tr>
            <th
              scope="row"
              className="sticky left-0 z-10 bg-base-100 py-3 pr-2 text-left align-top font-head text-[14px]"
            >
              Price
            </th>
            {lineup.columns.map((column) => (
              <td key={column.machine.id} className="border-l border-line px-2 py-3 align-top">
                <PriceCell
                  column={column}
                  currency={lineup.currency}
                  priceDate={lineup.price_date}
                  onOpen={() => onOpen(column.machine.id)}
                />
              </td>
            ))}
          </tr>
        </tbody>
      </table>
    </div>
  )
}

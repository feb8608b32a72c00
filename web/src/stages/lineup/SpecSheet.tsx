import { Fragment } from "react"
import { useOrderMachines } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { ratio } from "../../theme/format"
import { MachineHead } from "./MachineHead"
import { movedBefore } from "./order"
import { PriceCell } from "./PriceCell"
import { SpecCell } from "./SpecCell"
import { byGroup, isMain, isShown, isUnexpected, type Row, type Shown } from "./specs"

const HEAD = "sticky left-0 z-10 bg-base-100 pr-2 text-left align-top"

/** Machines as columns, specs as rows; setups as sub-columns that show what differs. */
export function SpecSheet({
  slug,
  lineup,
  shown,
  onMachine,
  onPrice,
  onRow,
  onFile,
}: {
  slug: string
  lineup: Schemas["LineUp"]
  shown: Shown
  onMachine: (machineId: string) => void
  /** Opens a machine at its prices. */
  onPrice: (machineId: string) => void
  onRow: (field: string) => void
  /** A spec file was dropped on a machine. */
  onFile: (machine: string, file: File) => void
}) {
  const groups = byGroup(lineup.rows.filter((row) => isShown(row, shown)))
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-collapse text-14">
        <thead>
          <Heads
            slug={slug}
            lineup={lineup}
            onMachine={onMachine}
            onPrice={onPrice}
            onFile={onFile}
          />
        </thead>
        <tbody>
          {groups.map(([group, rows]) => (
            <Fragment key={group}>
              {!(shown === "main rows" && rows.every(isMain)) && (
                <tr>
                  <th
                    scope="rowgroup"
                    colSpan={lineup.columns.length + 1}
                    className="pt-3 pb-1 text-left font-head text-14"
                  >
                    <span className="sticky left-0">{group}</span>
                  </th>
                </tr>
              )}
              {rows.map((row) => (
                <tr key={row.field} className="border-t border-line">
                  <RowHead
                    row={row}
                    marked={shown !== "differences" && isUnexpected(row)}
                    onOpen={() => onRow(row.field)}
                  />
                  {lineup.columns.map((column) => (
                    <td
                      key={column.machine.id}
                      className="max-w-64 border-l border-line px-1 align-top"
                    >
                      <SpecCell slug={slug} row={row} column={column} />
                    </td>
                  ))}
                </tr>
              ))}
            </Fragment>
          ))}
          <AssumedRow lineup={lineup} />
        </tbody>
      </table>
    </div>
  )
}

/** What setups without runs are said to be; left out where nothing is assumed. */
function AssumedRow({ lineup }: { lineup: Schemas["LineUp"] }) {
  const labels = new Map(lineup.setups.map((setup) => [setup.id, setup.label]))
  if (!lineup.setups.some((setup) => setup.assumed_ratio !== null)) return null
  return (
    <tr className="border-t border-line">
      <th scope="row" className={`${HEAD} py-1 text-13 leading-5 font-normal text-mute`}>
        Claimed speed (not tested)
      </th>
      {lineup.columns.map(({ machine }) => (
        <td key={machine.id} className="max-w-64 border-l border-line px-2 py-1 align-top">
          {machine.setups
            .filter((setup) => setup.assumed_ratio !== null)
            .map((setup) => (
              <span key={setup.id} className="block">
                <span className="figure">{ratio(setup.assumed_ratio)}</span>{" "}
                {labels.get(setup.assumed_against_id ?? "")}
                <span className="block text-12 text-mute">{setup.assumed_source}</span>
              </span>
            ))}
        </td>
      ))}
    </tr>
  )
}

/** The name of a row; it opens the row's note, where it can be marked as on trial. */
function RowHead({
  row,
  marked,
  onOpen,
}: {
  row: Row
  /** Whether it is marked as not the same everywhere. */
  marked: boolean
  onOpen: () => void
}) {
  return (
    <th scope="row" className={`${HEAD} py-1 text-13 leading-5 font-normal text-mute`}>
      <button type="button" className="text-left hover:underline" onClick={onOpen}>
        {row.title}
        {marked && (
          <span className="ml-1 text-base-content" title="not tested alike">
            ≠
          </span>
        )}
        {row.on_trial && <span className="block text-12 text-accent">compared</span>}
      </button>
    </th>
  )
}

/** The machines at the head of their columns, which are put in order by dragging. */
function Heads({
  slug,
  lineup,
  onMachine,
  onPrice,
  onFile,
}: {
  slug: string
  lineup: Schemas["LineUp"]
  onMachine: (machineId: string) => void
  onPrice: (machineId: string) => void
  onFile: (machine: string, file: File) => void
}) {
  const placeOf = useSetupPlaces(slug)
  const order = useOrderMachines(slug)
  const ids = lineup.columns.map((column) => column.machine.id)
  return (
    <tr className="border-b border-base-content align-top">
      <th scope="col" className="sticky left-0 z-10 w-28 min-w-28 bg-base-100">
        <span className="sr-only">Row</span>
      </th>
      {lineup.columns.map((column) => (
        <MachineHead
          key={column.machine.id}
          column={column}
          placeOf={placeOf}
          onOpen={() => onMachine(column.machine.id)}
          onDrop={(dropped) => order.mutate(movedBefore(ids, dropped, column.machine.id))}
          onFile={(file) => onFile(column.machine.name, file)}
        >
          <PriceCell
            column={column}
            currency={lineup.currency}
            priceDate={lineup.price_date}
            onOpen={() => onPrice(column.machine.id)}
          />
        </MachineHead>
      ))}
    </tr>
  )
}

import { EmptyStage } from "../../parts/EmptyStage"
import { Writes } from "../../parts/Reading"
import { AddMachine } from "./AddMachine"
import { PasteSpecs } from "./PasteSpecs"
import { RefreshPrices } from "./RefreshPrices"
import type { Column } from "./specs"

export type Focus = "add" | "paste" | "prices" | "settings"

/** What an empty line-up says. */
export function FirstMachines() {
  return (
    <EmptyStage title="Start with the machines">
      <p>
        Name the machines you will test; specs and prices can wait. Testing one both ways (stock and
        overclocked, plugged in and on battery)? Give it two setups.
      </p>
    </EmptyStage>
  )
}

/** The forms that bring something in: specs, prices, machines. */
export function Forms({
  slug,
  focus,
  dropped,
  columns,
  onClose,
}: {
  slug: string
  focus: string | undefined
  dropped: string /** Of the line-up that a machine is added to; none where none is. */
  columns: Column[] | undefined
  onClose: () => void
}) {
  return (
    <Writes>
      {focus === "paste" && (
        <PasteSpecs key={dropped} slug={slug} given={dropped} onClose={onClose} />
      )}
      {focus === "prices" && <RefreshPrices slug={slug} onClose={onClose} />}
      {columns && <AddMachine slug={slug} columns={columns} onClose={onClose} />}
    </Writes>
  )
}

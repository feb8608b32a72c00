import { useStoreImport, useTakeSheetBack } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { SheetField } from "../../parts/sheet/SheetField"
import { SheetView } from "../../parts/sheet/SheetView"
import { useSheet } from "../../parts/sheet/useSheet"
import { SPOKEN } from "../../reach/spoken"
import { count } from "../../theme/format"

const EXAMPLE = `machine\tParade, UHD\tRAM\tprice
Alder 13\t9:41\t16 GB\t1,299 EUR
Birch 15\t6:02\t32 GB\t2,390 EUR`

/** Brings a sheet of results, specs and prices in: shown first, stored only when confirmed. */
export function ImportPanel({ slug, onClose }: { slug: string; onClose: () => void }) {
  const sheet = useSheet(slug)
  const store = useStoreImport(slug)
  if (store.data) return <Stored slug={slug} result={store.data} onClose={onClose} />
  if (!sheet.preview) {
    return (
      <>
        <SheetField
          label="Paste your table, as it is"
          hint="Machines down or across, several tasks, specs, prices, rounds and notes in one block. Or one result a line: Alder / photos / 8:46"
          example={EXAMPLE}
          busy={sheet.busy}
          onText={sheet.start}
          onCancel={onClose}
        />
        <ProblemNote error={sheet.error} />
      </>
    )
  }
  const { counts } = sheet.preview
  return (
    <SheetView preview={sheet.preview} sheet={sheet}>
      <ActButton
        type="button"
        className="btn btn-primary"
        busy={sheet.busy || store.isPending}
        needs={sheet.preview.saved.length === 0 && "There is nothing to save in it yet."}
        onClick={() => sheet.given && store.mutate(sheet.given)}
      >
        {store.isPending ? "Importing…" : `Import ${importWords(counts)}`}
      </ActButton>
      <button type="button" className="btn" onClick={sheet.again}>
        Change the text
      </button>
      <button type="button" className="btn btn-ghost" onClick={onClose}>
        Cancel
      </button>
      <span className="text-13 text-mute">Nothing is saved yet.</span>
      <ProblemNote error={store.error} />
    </SheetView>
  )
}

/** How much would be brought in: its results, or all of it where it holds none. */
export function importWords(counts: Schemas["SheetCounts"]): string {
  const results = counts.times + counts.amounts + counts.failed + counts.void
  if (results > 0) return count(results, "result")
  if (counts.ratios > 0) return count(counts.ratios, "noted ratio")
  return counts.prices > 0 ? count(counts.prices, "price") : count(counts.specs, "spec")
}

/** What came of a sheet; all of it can be taken back at once. */
function Stored({
  slug,
  result,
  onClose,
}: {
  slug: string
  result: Schemas["SheetResult"]
  onClose: () => void
}) {
  const take = useTakeSheetBack(slug)
  const parts = [
    result.results && count(result.results, "result"),
    result.ratios && count(result.ratios, "noted ratio"),
    result.prices && count(result.prices, "price"),
    result.specs && count(result.specs, "spec"),
    result.machines && count(result.machines, "new machine"),
    result.tasks && count(result.tasks, "new task"),
  ].filter(Boolean)
  return (
    <div {...SPOKEN} className="max-w-xl space-y-3">
      {take.data ? (
        <p className="text-16">
          <strong>{take.data.says}</strong>
        </p>
      ) : (
        <p className="text-16">
          <strong>Imported: {parts.length > 0 ? parts.join(", ") : "nothing new"}.</strong>
          {result.same > 0 && ` ${result.same} were here already.`}
          {result.waiting > 0 &&
            ` ${count(result.waiting, "cell")} that could not be read stayed out.`}
        </p>
      )}
      {take.data?.stays.map((line) => (
        <p key={line}>{line}</p>
      ))}
      {take.data && result.tasks > 0 && (
        <p className="text-mute">The new tasks stay, without runs.</p>
      )}
      <div className="flex gap-3">
        <button type="button" className="btn btn-primary btn-sm" onClick={onClose}>
          See the runs
        </button>
        {parts.length > 0 && !take.data && (
          <ActButton
            type="button"
            className="btn btn-sm"
            busy={take.isPending}
            onClick={() => take.mutate(result.made)}
          >
            Undo: take all of it back
          </ActButton>
        )}
      </div>
      <ProblemNote error={take.error} />
    </div>
  )
}

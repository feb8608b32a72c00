import { useNavigate } from "@tanstack/react-router"
import { useState } from "react"
import { useStartFromNotes } from "../../api/changes"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { SheetField } from "../../parts/sheet/SheetField"
import { SheetView } from "../../parts/sheet/SheetView"
import { useSheet } from "../../parts/sheet/useSheet"

const EXAMPLE = `Alder / photos / 8:46
Birch / photos / 6:10
Alder / wedding film / over 2 h`

/** Makes a shootout out of what is written down already: machines, tasks and runs at once. */
export function FromNotes({ onClose }: { onClose: () => void }) {
  const sheet = useSheet(null)
  const make = useStartFromNotes()
  const navigate = useNavigate()
  const [typed, setName] = useState<string | null>(null)
  const name = typed ?? sheet.preview?.title ?? ""
  if (!sheet.preview) {
    return (
      <div className="mt-4">
        <SheetField
          label="Paste a table, or type one result a line"
          hint="Machine / task / result, or a whole table with specs and prices. You see how it is understood before anything is made."
          example={EXAMPLE}
          busy={sheet.busy}
          onText={sheet.start}
          onCancel={onClose}
        />
        <ProblemNote error={sheet.error} />
      </div>
    )
  }
  const ready = sheet.preview.saved.length > 0
  const start = () => {
    if (!sheet.given) return
    make.mutate(
      { ...sheet.given, name: name.trim() || "My comparison", currency: null },
      {
        onSuccess: ({ slug }) => void navigate({ to: "/s/$slug/margins", params: { slug } }),
      },
    )
  }
  return (
    <div className="mt-4">
      <SheetView preview={sheet.preview} sheet={sheet}>
        <div className="w-80 max-w-full">
          <TextField
            label="What do you want to find out?"
            value={name}
            onText={setName}
            maxLength={200}
            placeholder="My comparison"
          />
        </div>
        <ActButton
          type="button"
          className="btn btn-primary self-end"
          busy={sheet.busy || make.isPending}
          needs={!ready && "Needs notes with at least one run that can be saved."}
          onClick={start}
        >
          {make.isPending ? "Making…" : "Make the shootout"}
        </ActButton>
        <button type="button" className="btn self-end" onClick={sheet.again}>
          Change the text
        </button>
        <button type="button" className="btn btn-ghost self-end" onClick={onClose}>
          Cancel
        </button>
        <div className="w-full">
          <ProblemNote error={make.error} />
        </div>
      </SheetView>
    </div>
  )
}

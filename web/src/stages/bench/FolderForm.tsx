import { useState } from "react"
import { readEndings } from "../../lanes/watch/record"
import { type Chosen, canWatch, chooseFolder, droppedFolder } from "../../lanes/watch/watches"
import { Field } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"

const USUAL = ".mp4 .mov .mkv .webm .mxf .avi"

/** Chooses the folder that an export is written into: the file itself is then the stopwatch. */
export function FolderForm({ onWatch }: { onWatch: (chosen: Chosen) => Promise<void> }) {
  const [endings, setEndings] = useState(USUAL)
  const [again, setAgain] = useState(false)
  const [error, setError] = useState<unknown>(null)
  if (!canWatch()) return <CannotWatch />
  const choose = async (asked: Promise<FileSystemDirectoryHandle | null>) => {
    setError(null)
    try {
      const folder = await asked
      if (folder) await onWatch({ folder, endings: readEndings(endings), again })
    } catch (refused) {
      setError(refused)
    }
  }
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the button does the same by key
    <div
      className="w-full border-l-4 border-line pl-4"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        void choose(droppedFolder(event.dataTransfer))
      }}
    >
      <p className="text-mute">
        Open this page on the machine that exports. The timer starts at the first byte of a new file
        in the folder and ends at the last; no thumb is in it. Only names, sizes and times are
        looked at, and whether a film has its end; nothing of the files leaves this machine. A
        folder may be dropped here, too.
      </p>
      <div className="mt-2 flex flex-wrap items-end gap-3">
        <div className="w-72">
          <Field label="A finished file ends in" hint={null}>
            {(id, described) => (
              <input
                id={id}
                aria-describedby={described}
                className="input input-sm w-full bg-page"
                value={endings}
                onChange={(event) => setEndings(event.target.value)}
              />
            )}
          </Field>
        </div>
        <button
          type="button"
          className="btn btn-primary btn-sm"
          onClick={() => void choose(chooseFolder())}
        >
          Choose the folder and watch
        </button>
        <label className="flex items-center gap-2">
          <input
            type="checkbox"
            className="checkbox checkbox-sm"
            checked={again}
            onChange={(event) => setAgain(event.target.checked)}
          />
          Watch on for the next export, all day
        </label>
      </div>
      <ProblemNote error={error} />
    </div>
  )
}

/** What to do where a browser cannot look at a folder. */
function CannotWatch() {
  return (
    <div className="w-full border-l-4 border-line pl-4">
      <p>
        <strong>This browser cannot look at a folder.</strong>{" "}
        {window.isSecureContext
          ? "Open this page in one that can, time it by your presses, or save the watcher in one file, under Other devices."
          : "It may only over an encrypted address: pair this machine under Other devices and open the address that is shown there."}
      </p>
    </div>
  )
}

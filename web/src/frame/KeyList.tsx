import { useEffect, useRef, useState } from "react"
import { KeyCap } from "../parts/KeyCap"
import { setSingleKeys, singleKeysOn } from "../parts/useKeys"
import { WORDS } from "./words"

const KEYS: [string[], string][] = [
  [["G", "1…7"], "Go to a stage"],
  [["Ctrl", "K"], "Search or type a command"],
  [["Esc"], "Close"],
  [["Space"], "Bench: start the next timer that is ready"],
  [["A"], "Bench: start all timers that are ready"],
  [["1 … 8"], "Bench: start or stop this timer; on other stages: stop it"],
  [["P"], "Bench: note how far it is, a reading, or what happened"],
  [["X"], "Bench: false start, start over"],
  [["U"], "Bench: undo the last press, within 10 s"],
  [["V"], "Bench: don’t count this run"],
  [["F"], "Bench: failed, with a reason"],
  [["?"], "Help"],
]

/** All keys, and a switch for those that are single letters. */
export function KeyList({ open, onClose }: { open: boolean; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null)
  const [single, setSingle] = useState(singleKeysOn)
  useEffect(() => {
    if (open) dialog.current?.showModal()
    else dialog.current?.close()
  }, [open])
  return (
    <dialog
      ref={dialog}
      onClose={onClose}
      aria-label="Keys"
      className="m-auto w-96 max-w-[92vw] border border-base-content bg-page p-5 text-base-content backdrop:bg-black/30"
    >
      <h2 className="mb-3 text-[18px]">Keys</h2>
      <dl className="space-y-1.5">
        {KEYS.map(([keys, words]) => (
          <div key={words} className="flex items-center gap-2">
            <dt className="flex w-24 shrink-0 gap-1">
              {keys.map((key) => (
                <KeyCap key={key}>{key}</KeyCap>
              ))}
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <label className="mt-4 flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={single}
          onChange={(event) => {
            setSingleKeys(event.target.checked)
            setSingle(event.target.checked)
          }}
        />
        single keys are on
      </label>
      <details className="mt-4">
        <summary className="cursor-pointer">What the words mean</summary>
        <dl className="mt-2 max-h-40 overflow-y-auto border-t border-line text-[13px]">
          {WORDS.map(([word, meaning]) => (
            <div key={word} className="border-b border-line py-1">
              <dt className="inline font-semibold">{word}</dt>{" "}
              <dd className="inline text-mute">{meaning}</dd>
            </div>
          ))}
        </dl>
      </details>
      <button type="button" className="btn btn-sm mt-4" onClick={onClose}>
        Close
      </button>
    </dialog>
  )
}

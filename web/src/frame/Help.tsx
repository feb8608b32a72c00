import { lazy, Suspense, useEffect, useRef } from "react"

/** Fetched when it is opened first, and ahead of that with the stages. */
export const fetchHelp = () => import("./HelpParts")
const HelpParts = lazy(async () => ({ default: (await fetchHelp()).HelpParts }))

/** What a first evening asks, what the words mean, and all keys. */
export function Help({ open, onClose }: { open: boolean; onClose: () => void }) {
  const dialog = useRef<HTMLDialogElement>(null)
  useEffect(() => {
    if (open) dialog.current?.showModal()
    else dialog.current?.close()
  }, [open])
  return (
    <dialog
      ref={dialog}
      onClose={onClose}
      aria-label="Help"
      className="m-auto h-[38rem] focus:outline-none max-h-[92dvh] w-[52rem] max-w-[94vw] border border-base-content bg-page p-0 text-base-content backdrop:bg-black/30"
    >
      {open && (
        <Suspense fallback={<p className="p-5">Loading…</p>}>
          <HelpParts onClose={onClose} />
        </Suspense>
      )}
    </dialog>
  )
}

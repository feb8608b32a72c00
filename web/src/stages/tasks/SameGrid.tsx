import type { Schemas } from "../../api/client"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"

const SIGN: Record<string, string> = { same: "=", differs: "≠", unknown: "?" }

/** Every setup against the reference: same, differs or unknown; a difference opens. */
export function SameGrid({
  slug,
  setups,
  shown,
  onShow,
}: {
  slug: string
  setups: Schemas["FileState"][]
  /** Id of the file whose differences are shown. */
  shown: string | null
  onShow: (fileId: string | null) => void
}) {
  const placeOf = useSetupPlaces(slug)
  return (
    <ul className="mt-3 grid border-t border-line sm:grid-cols-2 sm:gap-x-6">
      {setups.map((setup) => (
        <li
          key={setup.setup_id}
          className="flex min-w-0 items-center gap-2 border-b border-line py-1"
        >
          <SetupMark index={placeOf(setup.setup_id ?? "")} size={11} />
          <span className="min-w-0 flex-1 truncate" title={setup.label}>
            {setup.label}
          </span>
          {setup.state === "differs" && setup.file ? (
            <button
              type="button"
              className="text-accent underline"
              aria-expanded={shown === setup.file.id}
              onClick={() => onShow(shown === setup.file?.id ? null : (setup.file?.id ?? null))}
            >
              ≠ differs
            </button>
          ) : (
            <span className={setup.state === "same" ? "" : "text-mute"}>
              {SIGN[setup.state]} {setup.state}
            </span>
          )}
        </li>
      ))}
    </ul>
  )
}

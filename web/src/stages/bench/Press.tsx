import { momentOf } from "../../lanes/lane"
import { KeyCap } from "../../parts/KeyCap"

/** A button of a lane, with its key; on a phone the main one is huge. */
export function Press({
  label,
  keyName,
  onPress,
  primary = false,
  small = false,
}: {
  label: string
  keyName: string | null
  /** With the moment of the press. */
  onPress: (at: number) => void
  primary?: boolean
  /** One of several lanes: lower, except on a phone. */
  small?: boolean
}) {
  return (
    <button
      type="button"
      className={`btn ${small ? "sm:btn-sm" : ""} ${primary ? "btn-primary max-sm:h-20 max-sm:w-full max-sm:text-xl" : ""}`}
      onClick={(event) => {
        // Keys belong to the lane again, not to the button just pressed.
        event.currentTarget.blur()
        onPress(momentOf(event))
      }}
    >
      {label}{" "}
      {keyName && (
        <span className="text-base-content max-sm:hidden">
          <KeyCap>{keyName}</KeyCap>
        </span>
      )}
    </button>
  )
}

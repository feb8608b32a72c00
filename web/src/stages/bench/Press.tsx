import { KeyCap } from "../../parts/KeyCap"
import { usePress } from "../../parts/usePress"
import { leavePressed } from "../../reach/focus"

/** A button of a lane, with its key; on a phone the main one is huge. */
export function Press({
  label,
  keyName,
  onPress,
  primary = false,
  small = false,
  dense = false,
}: {
  label: string
  keyName: string | null
  /** With the moment of the press. */
  onPress: (at: number) => void
  primary?: boolean
  /** One of several lanes: lower, except on a phone. */
  small?: boolean
  /** One of many lanes: as low as a finger can hit, on a phone too. */
  dense?: boolean
}) {
  const press = usePress((at, event) => {
    // Keys belong to the lane again, not to the button just pressed.
    leavePressed(event.currentTarget)
    onPress(at)
  })
  const huge = dense ? "max-sm:h-11 max-sm:flex-1" : "max-sm:h-20 max-sm:w-full max-sm:text-xl"
  const low = dense ? "sm:btn-xs sm:h-6" : small ? "sm:btn-sm" : ""
  return (
    <button
      type="button"
      className={`btn ${low} ${primary ? `btn-primary ${huge}` : ""}`}
      {...press}
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

import { type ButtonHTMLAttributes, type MouseEvent, useId, useState } from "react"
import { announce } from "../reach/announce"

type Props = Omit<ButtonHTMLAttributes<HTMLButtonElement>, "disabled"> & {
  /** It is on its way and takes no second press. */
  busy?: boolean
  /** Why it cannot be pressed yet, as "Needs a name."; nothing where it can be. */
  needs?: string | false | null | undefined
}

/**
 * A button that says why it is greyed, to whoever presses it, points at it or hears it.
 *
 * It is never disabled as the browser means it: that would take the focus away, and a reader
 * by ear would not find it at all.
 */
export function ActButton({
  busy = false,
  needs,
  type = "button",
  onClick,
  children,
  ...rest
}: Props) {
  const id = useId()
  const [pressed, setPressed] = useState(false)
  const why = busy ? "" : needs || ""
  const press = (event: MouseEvent<HTMLButtonElement>) => {
    if (!busy && !why) {
      setPressed(false)
      onClick?.(event)
      return
    }
    event.preventDefault()
    // A second press while the first is on its way has nothing to be told.
    setPressed(why !== "")
    announce(why)
  }
  return (
    <>
      <button
        {...rest}
        type={type}
        aria-disabled={busy || why !== "" || undefined}
        aria-describedby={why ? id : undefined}
        title={why || rest.title}
        onClick={press}
      >
        {children}
      </button>
      {why && (
        <span id={id} className={pressed ? "text-13 text-accent" : "sr-only"}>
          {why}
        </span>
      )}
    </>
  )
}

import { Link } from "@tanstack/react-router"
import { Wordmark } from "./Wordmark"

/** Shown for an address that leads nowhere. */
export function NothingHere() {
  return (
    <div className="space-y-3 p-6">
      <Wordmark />
      <p>Nothing at this address. The link may be old.</p>
      <Link to="/" className="underline">
        All shootouts
      </Link>
    </div>
  )
}

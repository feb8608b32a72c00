import { Link } from "@tanstack/react-router"
import { Wordmark } from "./Wordmark"

/** Shown for an address that leads nowhere. */
export function NothingHere() {
  return (
    <div className="space-y-3 p-6">
      <Wordmark />
      <p>There is nothing at this address. The stage may not be built yet, or the link is old.</p>
      <Link to="/" className="underline">
        All shootouts
      </Link>
    </div>
  )
}

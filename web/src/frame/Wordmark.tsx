import { Link } from "@tanstack/react-router"

/** The name, with an interval between its two words. */
export function Wordmark() {
  return (
    <Link
      to="/"
      className="flex items-center gap-1 font-head text-17 font-bold"
      aria-label="True Margin, all shootouts"
    >
      <span className="max-[30rem]:sr-only">True</span>{" "}
      <svg width="26" height="20" viewBox="0 0 26 20" fill="none" aria-hidden="true">
        <path d="M3 2v16M3 3h4M23 2v16M19 17h4" stroke="currentColor" strokeWidth="2" />
        <path d="M7 10h12" stroke="var(--color-accent)" strokeWidth="2.5" />
      </svg>{" "}
      <span className="max-[30rem]:sr-only">Margin</span>
    </Link>
  )
}

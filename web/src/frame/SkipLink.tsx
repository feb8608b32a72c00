import { focusOn, heading } from "../reach/focus"

/** Id of what a page is about. */
export const MAIN = "stage"

/** First stop of Tab on every page: past the strips, to what the page is about. */
export function SkipLink() {
  return (
    <a
      href={`#${MAIN}`}
      className="sr-only z-50 border-2 border-accent bg-page px-3 py-1.5 font-bold focus:not-sr-only focus:fixed focus:top-2 focus:left-2"
      onClick={(event) => {
        event.preventDefault()
        focusOn(heading)
      }}
    >
      Skip to the page
    </a>
  )
}

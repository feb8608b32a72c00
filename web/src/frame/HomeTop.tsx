import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { meQuery } from "../api/people"
import { useTheme } from "../theme/useTheme"
import { PersonLink } from "./PersonLink"
import { SkipLink } from "./SkipLink"
import { Wordmark } from "./Wordmark"

const PLACES = [
  { to: "/", words: "Shootouts", forAll: true },
  { to: "/all-time", words: "All time", forAll: false },
  { to: "/room", words: "Store room", forAll: false },
] as const

/** The strip on top outside of shootouts: where one is, who one is, day or night. */
export function HomeTop() {
  const { data: me } = useQuery(meQuery)
  const [theme, flip] = useTheme()
  const shown = PLACES.filter((place) => place.forAll || me?.makes !== false)
  return (
    <header className="flex min-h-12 shrink-0 flex-wrap items-center gap-x-4 gap-y-1 border-b border-line px-4 py-1">
      <SkipLink />
      <div className="md:w-46">
        <Wordmark />
      </div>
      <nav
        aria-label="Places"
        className="order-last flex w-full gap-x-5 text-13 sm:order-none sm:w-auto"
      >
        {shown.map(({ to, words }) => (
          <Link
            key={to}
            to={to}
            className="flex min-h-7 items-center text-mute"
            activeProps={{ className: "font-bold text-base-content!", "aria-current": "page" }}
            activeOptions={{ exact: true }}
          >
            {words}
          </Link>
        ))}
        {me?.kind === "local" && (
          <Link
            to="/people"
            className="flex min-h-7 items-center text-mute"
            activeProps={{ className: "font-bold text-base-content!", "aria-current": "page" }}
          >
            People
          </Link>
        )}
      </nav>
      <span className="flex-1" />
      <PersonLink />
      <button type="button" className="text-13 underline" onClick={flip}>
        {theme === "daybench" ? "night" : "day"}
      </button>
    </header>
  )
}

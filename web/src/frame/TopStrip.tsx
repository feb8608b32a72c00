import { useQuery } from "@tanstack/react-query"
import { useNavigate } from "@tanstack/react-router"
import type { Schemas } from "../api/client"
import { shootoutsQuery } from "../api/queries"
import { useTheme } from "../theme/useTheme"
import { FindBox } from "./FindBox"
import { PersonLink } from "./PersonLink"
import { SettingChips } from "./SettingChips"
import { Wordmark } from "./Wordmark"

/** The strip on top: where one is, and the settings that every figure follows. */
export function TopStrip({
  shootout,
  baseline,
  onHelp,
}: {
  shootout: Schemas["Shootout"] | undefined
  baseline: string | null
  onHelp: () => void
}) {
  const [theme, flip] = useTheme()
  return (
    <header className="print:hidden flex h-12 shrink-0 items-center gap-3 sm:gap-4 border-b border-line px-4">
      <div className="shrink-0 md:w-46">
        <Wordmark />
      </div>
      {shootout && <Switcher shootout={shootout} />}
      <span className="flex-1" />
      {shootout && <FindBox slug={shootout.slug} flipTheme={flip} />}
      {shootout && (
        <div className="hidden xl:block">
          <SettingChips shootout={shootout} baseline={baseline} />
        </div>
      )}
      {shootout && (
        <details className="relative shrink-0 xl:hidden">
          <summary className="list-none text-13 underline">settings</summary>
          <div className="absolute top-8 right-0 z-40 border border-base-content bg-page p-4">
            <SettingChips shootout={shootout} baseline={baseline} />
          </div>
        </details>
      )}
      <PersonLink shootoutId={shootout?.id} />
      <button type="button" className="shrink-0 text-13 underline" onClick={flip}>
        {theme === "daybench" ? "night" : "day"}
      </button>
      <button
        type="button"
        className="h-6 w-6 shrink-0 border border-line text-13"
        aria-label="Help"
        onClick={onHelp}
      >
        ?
      </button>
    </header>
  )
}

function Switcher({ shootout }: { shootout: Schemas["Shootout"] }) {
  const { data } = useQuery(shootoutsQuery())
  const navigate = useNavigate()
  return (
    <select
      aria-label="Shootout"
      className="w-full max-w-32 min-w-0 truncate bg-transparent font-head text-15 font-bold sm:max-w-80"
      value={shootout.slug}
      onChange={(event) => {
        const slug = event.target.value
        void (slug ? navigate({ to: "/s/$slug/margins", params: { slug } }) : navigate({ to: "/" }))
      }}
    >
      {(data ?? [shootout]).map((each) => (
        <option key={each.id} value={each.slug}>
          {each.name}
        </option>
      ))}
      <option value="">All shootouts, or a new one…</option>
    </select>
  )
}

import { Link } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { day } from "../../theme/format"

/** One shootout: its ranking in small, its question and answer, what is open. */
export function ShelfRow({
  line,
  onArchive,
}: {
  line: Schemas["ShelfLine"]
  /** Puts it into the archive; none for whoever may not. */
  onArchive: (() => void) | undefined
}) {
  const { shootout } = line
  const facts = [line.facts, line.edition === null ? "" : `edition ${line.edition}`]
    .filter(Boolean)
    .join(" · ")
  return (
    <li className="group relative border-b border-line">
      <Link
        to={line.bars.length ? "/s/$slug/margins" : "/s/$slug/lineup"}
        params={{ slug: shootout.slug }}
        className="shelf-row py-3 hover:bg-base-200"
      >
        <SmallRanking bars={line.bars} />
        <span className="min-w-0">
          <span className="block text-13 break-words text-mute">
            {shootout.name}
            {shootout.demo && " (demo)"}
          </span>
          <span className="block font-head text-15 leading-5 font-bold break-words">
            {line.answer || (line.fresh ? "" : "…")}
          </span>
        </span>
        <span className="min-w-0 text-13">
          <span
            className={`flex items-baseline gap-2 leading-5 ${line.needs_you ? "font-bold text-accent" : ""}`}
          >
            {line.needs_you && <span aria-hidden="true" className="h-2 w-2 shrink-0 bg-accent" />}
            <span className="min-w-0 break-words">{line.waiting[0]}</span>
          </span>
          {line.waiting.length > 1 && (
            <span className="block">{line.waiting.slice(1).join(", ")}</span>
          )}
          <span className="block text-mute">{facts}</span>
          <span className="block pr-20 text-mute">worked on {day(line.worked_at)}</span>
        </span>
      </Link>
      {onArchive && (
        <button
          type="button"
          className="btn btn-ghost btn-xs absolute right-0 bottom-2 font-normal opacity-0 underline [@media(hover:none)]:opacity-100 group-focus-within:opacity-100 group-hover:opacity-100 focus:opacity-100"
          aria-label={`Archive ${shootout.name}`}
          onClick={onArchive}
        >
          Archive
        </button>
      )}
    </li>
  )
}

/** The first and the last of the ranking as bars; blanks where nothing was timed. */
function SmallRanking({ bars }: { bars: Schemas["ShelfBar"][] }) {
  const shown = bars.length
    ? bars
    : [
        { share: 1, leads: false },
        { share: 0.7, leads: false },
      ]
  return (
    <span aria-hidden="true" className="shelf-bars pt-1">
      {shown.map((bar, place) => (
        <span
          // biome-ignore lint/suspicious/noArrayIndexKey: bars have nothing else that tells them apart
          key={place}
          className={`mb-1 block h-2 ${bars.length === 0 ? "border border-dashed border-mute" : bar.leads ? "bg-base-content" : "bg-mute/60"}`}
          style={{ width: `${100 * bar.share}%` }}
        />
      ))}
    </span>
  )
}

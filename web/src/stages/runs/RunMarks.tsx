import type { Schemas } from "../../api/client"
import { markWords } from "../../lanes/marks"
import { NotePart } from "../../parts/SideNote"
import { clock, count, percent } from "../../theme/format"

const SHOWN = 6

/** The readings inside a run, and how wrong the app's own estimates were. */
export function RunMarks({ detail }: { detail: Schemas["RunDetail"] }) {
  const { marks, estimates } = detail
  if (marks.length === 0) return null
  const step = Math.max(1, Math.ceil(marks.length / SHOWN))
  const shown = marks.filter((mark, place) => place % step === 0 || mark.event !== null)
  const first = estimates[0]
  const worst = [...estimates].sort((a, b) => Math.abs(b.error_s) - Math.abs(a.error_s))[0]
  return (
    <NotePart title="Marks">
      <ol className="text-[13px]">
        {shown.map((mark) => (
          <li key={mark.elapsed_s} className="flex gap-2 border-b border-line py-0.5">
            <span className="figure w-12 shrink-0 text-right">{clock(mark.elapsed_s)}</span>
            <span className="min-w-0 break-words">{markWords(mark)}</span>
          </li>
        ))}
      </ol>
      {shown.length < marks.length && (
        <p className="text-[12px] text-mute">
          {shown.length} of {count(marks.length, "mark")} shown
        </p>
      )}
      {first && worst && detail.run.value !== null && (
        <p className="mt-1 text-[13px]">
          The app’s own estimate was {wrong(first)} at {clock(first.elapsed_s)}
          {worst.elapsed_s !== first.elapsed_s &&
            `, and at worst ${wrong(worst)} at ${clock(worst.elapsed_s)}`}
          : {percent(Math.abs(worst.error_s) / detail.run.value, 0)} of the run.
        </p>
      )}
    </NotePart>
  )
}

function wrong({ error_s }: Schemas["OwnEstimate"]): string {
  if (Math.abs(error_s) < 0.5) return "right"
  return `${clock(Math.abs(error_s))} too ${error_s > 0 ? "late" : "soon"}`
}

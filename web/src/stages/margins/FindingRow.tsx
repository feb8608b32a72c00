import { useId, useState } from "react"
import type { Schemas } from "../../api/client"
import { useReading } from "../../parts/Reading"
import { Inquiry } from "./Inquiry"
import { LookInto } from "./LookInto"

type Finding = Schemas["FindingView"]
type Bar = Schemas["OddBar"]

const STATE_MARK = {
  new: "bg-accent",
  looking: "border-2 border-l-[6px] border-base-content",
  settled: "border border-mute",
} as const

/** One odd result in a line, which opens to its two numbers and to what was done about it. */
export function FindingRow({
  slug,
  view,
  finding,
}: {
  slug: string
  view: Schemas["OutOfLine"]
  finding: Finding
}) {
  const [open, setOpen] = useState(false)
  const opened = useId()
  return (
    <>
      <div className="finding-row py-2.5">
        <span className="finding-state flex items-center gap-2 text-13">
          <span
            aria-hidden="true"
            className={`h-2.5 w-2.5 shrink-0 ${STATE_MARK[finding.state]}`}
          />
          {finding.state}
        </span>
        <p className="finding-words">
          <strong>{finding.headline}</strong> {finding.rest}
        </p>
        <SmallBars bars={finding.bars} />
        <button
          type="button"
          className="finding-button btn btn-ghost btn-xs font-normal underline decoration-line"
          aria-expanded={open}
          aria-controls={opened}
          onClick={() => setOpen(!open)}
        >
          {open ? "Close" : "Open"}
        </button>
      </div>
      {open && (
        <div id={opened} className="finding-row pb-4">
          <div className="finding-opened grid gap-x-10 gap-y-4 md:grid-cols-2">
            <TwoNumbers finding={finding} />
            <Answer slug={slug} view={view} finding={finding} onDone={() => setOpen(false)} />
          </div>
        </div>
      )}
    </>
  )
}

function Answer({
  slug,
  view,
  finding,
  onDone,
}: {
  slug: string
  view: Schemas["OutOfLine"]
  finding: Finding
  onDone: () => void
}) {
  const reading = useReading()
  const inquiry = view.inquiries.find((each) => each.inquiry.id === finding.inquiry_id)
  if (inquiry) {
    return (
      <div>
        <Inquiry slug={slug} view={inquiry} />
      </div>
    )
  }
  if (reading) return <p className="text-mute">Possible causes: {finding.causes.join(", ")}.</p>
  return <LookInto slug={slug} finding={finding} onDone={onDone} />
}

function SmallBars({ bars }: { bars: Bar[] }) {
  const most = Math.max(...bars.map((bar) => bar.value))
  return (
    <span className="finding-bars" aria-hidden="true">
      {bars.map((bar, place) => (
        <span
          key={bar.label}
          className={`mb-1 block h-1.5 min-w-px ${place === 0 ? "bg-base-content" : "bg-mute"}`}
          style={{ width: `${(100 * bar.value) / most}%` }}
        />
      ))}
    </span>
  )
}

function TwoNumbers({ finding }: { finding: Finding }) {
  const most = Math.max(...finding.bars.map((bar) => bar.value))
  if (finding.bars.length === 0) return <div />
  return (
    <div>
      <h3 className="text-13 font-bold">The two numbers</h3>
      <ul className="mt-1">
        {finding.bars.map((bar, place) => (
          <li
            key={bar.label}
            className="grid grid-cols-[minmax(4.375rem,8.125rem)_1fr_4rem] items-center gap-2 py-1"
          >
            <span className="min-w-0 break-words">{bar.label}</span>
            <span
              aria-hidden="true"
              className={`block h-3 min-w-px ${place === 0 ? "bg-base-content" : "bg-mute"}`}
              style={{ width: `${(100 * bar.value) / most}%` }}
            />
            <span className="figure">{bar.words}</span>
          </li>
        ))}
      </ul>
      <p className="mt-1 text-13 text-mute">{finding.measured}</p>
    </div>
  )
}

import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { Writes } from "../../parts/Reading"
import { moment } from "../../theme/format"
import { InquiryStep } from "./InquiryStep"

type View = Schemas["InquiryView"]
type Step = Schemas["StepView"]

/** One inquiry as dated steps, from what was suspected to what came out. */
export function Inquiry({ slug, view }: { slug: string; view: View }) {
  const [open, setOpen] = useState(false)
  const { inquiry } = view
  const about = [...view.setups, view.task].filter(Boolean).join(", ")
  return (
    <>
      <p>
        <strong>{inquiry.about}</strong>
        {about && <span className="text-mute"> · {about}</span>}
      </p>
      <ol className="mt-1">
        {view.steps.map((step) => (
          <StepLine key={step.place} slug={slug} step={step} />
        ))}
      </ol>
      {open ? (
        <InquiryStep slug={slug} view={view} onDone={() => setOpen(false)} />
      ) : (
        <Writes>
          <button type="button" className="btn btn-xs mt-1" onClick={() => setOpen(true)}>
            {inquiry.closed_at ? "Open it again" : "Note the next step"}
          </button>
        </Writes>
      )}
    </>
  )
}

function StepLine({ slug, step }: { slug: string; step: Step }) {
  return (
    <li className="grid grid-cols-[5.75rem_minmax(0,1fr)] gap-x-2 border-t border-line py-1 text-13 first:border-t-0">
      <span className={step.kind === "came out" ? "font-bold" : "text-mute"}>{step.kind}</span>
      <div>
        {step.words && <p>{step.words}</p>}
        {step.counts && <p className="font-bold">{step.counts}</p>}
        {step.things.length > 0 && (
          <ul>
            {step.things.map((thing) => (
              <li key={thing.id}>
                <Link
                  to={thing.sort === "run" ? "/s/$slug/runs" : "/s/$slug/bench"}
                  params={{ slug }}
                  search={thing.sort === "run" ? { run: thing.id } : { view: "log" }}
                  className="inline-block min-h-6 py-0.5 underline decoration-line"
                >
                  {thing.words}
                </Link>
              </li>
            ))}
          </ul>
        )}
        <p className="text-mute">
          {moment(step.noted_at)}, {step.who}
        </p>
      </div>
    </li>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { outOfLineQuery } from "../../api/margins"
import { Fold } from "../../parts/Fold"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { FindingRow } from "./FindingRow"
import { Inquiry } from "./Inquiry"
import { LookInto } from "./LookInto"

type View = Schemas["OutOfLine"]
type Finding = Schemas["FindingView"]

/** What looks wrong by the figures, and what people found when they looked into it. */
export function OutOfLine({ slug }: { slug: string }) {
  const { data, error } = useQuery(outOfLineQuery(slug))
  const [own, setOwn] = useState(false)
  if (error) return <ProblemNote error={error} />
  if (!data) return <p>Loading…</p>
  const left = data.findings.filter((finding) => finding.state !== "settled")
  const settled = data.findings.filter((finding) => finding.state === "settled")
  const shown = new Set(data.findings.map((finding) => finding.inquiry_id))
  const others = data.inquiries.filter((view) => !shown.has(view.inquiry.id))
  return (
    <div className="max-w-5xl space-y-6">
      <section aria-label="By the figures">
        <Headline slug={slug} view={data} />
        <ul className="mt-3">
          {groupsOf(left).map((group) => (
            <Group key={keyOf(group[0])} slug={slug} view={data} group={group} />
          ))}
        </ul>
        {own ? (
          <LookInto slug={slug} finding={null} onDone={() => setOwn(false)} />
        ) : (
          <Writes>
            <button type="button" className="btn btn-xs mt-3" onClick={() => setOwn(true)}>
              Note something else
            </button>
          </Writes>
        )}
      </section>
      {settled.length > 0 && (
        <Fold title={`${settled.length} settled`}>
          <ul>
            {settled.map((finding) => (
              <li key={keyOf(finding)}>
                <FindingRow slug={slug} view={data} finding={finding} />
              </li>
            ))}
          </ul>
        </Fold>
      )}
      {others.length > 0 && (
        <section aria-label="Follow-ups">
          <h2 className="mb-1 text-15">Follow-ups</h2>
          <ul>
            {others.map((view) => (
              <li key={view.inquiry.id} className="border-t border-line py-2">
                <Inquiry slug={slug} view={view} />
              </li>
            ))}
          </ul>
        </section>
      )}
    </div>
  )
}

function Headline({ slug, view }: { slug: string; view: View }) {
  return (
    <>
      <h2 className="text-22 leading-7">{view.summary}</h2>
      {view.advice && (
        <p className="mt-1 text-15">
          {view.advice}{" "}
          {view.again && (
            <Writes>
              <Link
                to="/s/$slug/bench"
                params={{ slug }}
                search={{ focus: `${view.again.setup_id}:${view.again.task_id}` }}
                className="underline decoration-2 decoration-accent underline-offset-4"
              >
                {view.again.words}
              </Link>
            </Writes>
          )}
        </p>
      )}
    </>
  )
}

/** Findings that rest on the same runs stand within a bracket: likely they have one cause. */
function Group({ slug, view, group }: { slug: string; view: View; group: Finding[] }) {
  const many = group.length > 1
  return (
    <li className="relative border-t border-line">
      {many && (
        <span
          aria-hidden="true"
          className="pointer-events-none absolute top-2 bottom-2 -left-3 w-2 border-2 border-r-0 border-accent"
        />
      )}
      <ul aria-label={many ? "These rest on the same runs" : undefined}>
        {group.map((finding) => (
          <li key={keyOf(finding)} className="border-t border-line first:border-t-0">
            <FindingRow slug={slug} view={view} finding={finding} />
          </li>
        ))}
      </ul>
    </li>
  )
}

const keyOf = (finding: Finding | undefined) => `${finding?.kind} ${finding?.words}`

/** Findings one after the other that rest on the same runs. */
function groupsOf(findings: Finding[]): Finding[][] {
  const groups: Finding[][] = []
  for (const finding of findings) {
    const last = groups.at(-1)
    if (last?.[0]?.together === finding.together) last.push(finding)
    else groups.push([finding])
  }
  return groups
}

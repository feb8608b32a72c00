import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { labelOf, METHOD, RUN_STATUS } from "../../api/labels"
import { lineupQuery, roundsQuery, runQuery, tasksQuery } from "../../api/queries"
import { Doubt } from "../../parts/Doubt"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { NotePart, SideNote } from "../../parts/SideNote"
import { compact, moment, percent, runValue } from "../../theme/format"
import { Attachments } from "./Attachments"
import type { LastChange } from "./lastChange"
import { ReviseRun } from "./ReviseRun"
import { RunMarks } from "./RunMarks"

/** One run: how it was read, what is odd, its history, and what may be done with it. */
export function RunNote({
  slug,
  id,
  onChanged,
  onClose,
}: {
  slug: string
  id: string
  onChanged: (change: LastChange) => void
  onClose: () => void
}) {
  const { data, error } = useQuery(runQuery(id))
  const setup = useQuery(lineupQuery(slug)).data?.setups.find((s) => s.id === data?.run.setup_id)
  const task = useQuery(tasksQuery(slug)).data?.find((t) => t.task.id === data?.run.task_id)?.task
  const round = useQuery(roundsQuery(slug)).data?.find((r) => r.id === data?.run.round_id)
  const measure = task?.measure ?? "time"
  return (
    <SideNote
      title="Run"
      name={setup && task && `${setup.label}, ${task.name}`}
      about={id}
      onClose={onClose}
    >
      <ProblemNote error={error} />
      {data && (
        <>
          <p className="figure text-26 leading-8 font-bold">
            {runValue(data.run, measure)}{" "}
            {data.run.status !== "ok" && (
              <span className="font-sans text-15 text-accent">{data.run.status}</span>
            )}
          </p>
          <p className="break-words">
            {setup?.label} · {task?.name} · {round?.name}
          </p>
          {data.run.reason && <p className="text-accent">{data.run.reason}</p>}
          {data.run.note && <p className="text-mute">{data.run.note}</p>}
          {data.run.reached !== null && (
            <p className="text-mute">It came to {percent(data.run.reached, 0)} of the work.</p>
          )}
          {data.run.simulated && <p className="text-accent">Simulated: no real machine ran it.</p>}
          {data.because.map((reason) => (
            <p key={reason} className="mt-1 border-l-2 border-accent pl-2 text-accent">
              {reason}
            </p>
          ))}
          {data.flags.includes("odd one") && data.run.status === "ok" && (
            <div className="mt-1">
              {data.run.checked ? (
                <p className="text-mute">Looked at: it is right.</p>
              ) : (
                <Doubt slug={slug} run={data.run} />
              )}
            </div>
          )}
          {data.wrong_before.length > 0 && (
            <p className="mt-1 border-l-2 border-accent pl-2 text-accent">
              At the start: {data.wrong_before.join(", ")}.
            </p>
          )}
          {data.troubles.map((trouble) => (
            <p key={trouble.id} className="mt-1 text-accent">
              Problem: {trouble.kind}
              {trouble.note && `, ${trouble.note}`}
            </p>
          ))}
          <NotePart title="How it was timed">
            <Reading run={data.run} measure={measure} />
          </NotePart>
          <RunMarks slug={slug} detail={data} />
          <Writes>
            <ReviseRun key={data.run.version} slug={slug} run={data.run} onChanged={onChanged} />
          </Writes>
          <Attachments slug={slug} detail={data} />
          <History detail={data} measure={measure} />
        </>
      )}
    </SideNote>
  )
}

function Reading({ run, measure }: { run: Schemas["Run"]; measure: string }) {
  return (
    <p className="text-13">
      {run.typed && `${run.typed} `}
      {labelOf(METHOD, run.method)}
      {run.value !== null &&
        measure === "time" &&
        ` (± ${compact(Number(run.u.toPrecision(1)))} s)`}
      {run.placed_u > 0 && ` (two devices timed it: ${compact(run.placed_u)} s of that)`}
      {run.bound && ", a bound: it counts as at least or at most, and in no mean"}. Entered by{" "}
      {run.who}, {moment(run.started_at ?? run.created_at)}.
    </p>
  )
}

/** A bound as it was kept before sides were told apart: then all were above the value. */
function boundOf(before: unknown): string | null {
  if (before === true) return ">"
  return typeof before === "string" ? before : null
}

function History({ detail, measure }: { detail: Schemas["RunDetail"]; measure: string }) {
  if (detail.revisions.length === 0) return null
  return (
    <NotePart title="History">
      <ol className="text-13">
        {detail.revisions.map((revision) => {
          const before = revision.before as Partial<Schemas["Run"]>
          return (
            <li key={revision.version} className="border-b border-line py-1">
              {revision.why}
              <span className="block text-mute">
                was{" "}
                {runValue(
                  {
                    value: before.value ?? null,
                    resolution: before.resolution ?? detail.run.resolution,
                    bound: boundOf(before.bound),
                    approximate: before.approximate ?? false,
                  },
                  measure,
                )}
                , {labelOf(RUN_STATUS, before.status ?? "")}; {revision.who},{" "}
                {moment(revision.changed_at)}
              </span>
            </li>
          )
        })}
      </ol>
    </NotePart>
  )
}

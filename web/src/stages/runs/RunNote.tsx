import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { lineupQuery, roundsQuery, runQuery, tasksQuery } from "../../api/queries"
import { ProblemNote } from "../../parts/ProblemNote"
import { NotePart, SideNote } from "../../parts/SideNote"
import { compact, moment, percent, runValue } from "../../theme/format"
import { ReviseRun } from "./ReviseRun"

const FLAG_WORDS: Record<string, string> = {
  "odd one": "far from the other runs of its cell",
  "first differs": "the first run differs from the rest: cold caches?",
  coarse: "read more coarsely than runs differ",
  "slowed down": "its marks show that it slowed down",
}

/** One run: how it was read, what is odd, its history, and what may be done with it. */
export function RunNote({ slug, id, onClose }: { slug: string; id: string; onClose: () => void }) {
  const { data, error } = useQuery(runQuery(slug, id))
  const setup = useQuery(lineupQuery(slug)).data?.setups.find((s) => s.id === data?.run.setup_id)
  const task = useQuery(tasksQuery(slug)).data?.find((t) => t.task.id === data?.run.task_id)?.task
  const round = useQuery(roundsQuery(slug)).data?.find((r) => r.id === data?.run.round_id)
  const measure = task?.measure ?? "time"
  return (
    <SideNote title="Run" onClose={onClose}>
      <ProblemNote error={error} />
      {data && (
        <>
          <p className="figure text-[26px] leading-8 font-bold">
            {runValue(data.run, measure)}{" "}
            {data.run.status !== "ok" && (
              <span className="font-sans text-[15px] text-accent">{data.run.status}</span>
            )}
          </p>
          <p className="break-words">
            {setup?.label} · {task?.name} · {round?.name}
          </p>
          {data.run.reason && <p className="text-accent">{data.run.reason}</p>}
          {data.run.note && <p className="text-mute">{data.run.note}</p>}
          {data.flags.map((flag) => (
            <p key={flag} className="mt-1 border-l-2 border-accent pl-2 text-accent">
              {flag}: {FLAG_WORDS[flag] ?? ""}
            </p>
          ))}
          <NotePart title="Reading">
            <Reading run={data.run} measure={measure} />
          </NotePart>
          {data.marks.length > 0 && <Marks marks={data.marks} />}
          <ReviseRun key={data.run.version} slug={slug} run={data.run} />
          <History detail={data} measure={measure} />
        </>
      )}
    </SideNote>
  )
}

function Reading({ run, measure }: { run: Schemas["Run"]; measure: string }) {
  return (
    <p className="text-[13px]">
      {run.typed ? `Typed “${run.typed}”, ` : ""}
      {run.method}
      {run.value !== null && measure === "time" && `, ± ${compact(run.u)} s`}
      {run.bound && ", a bound: it takes no part in averages"}. Entered by {run.who},{" "}
      {moment(run.started_at ?? run.created_at)}.
    </p>
  )
}

function Marks({ marks }: { marks: Schemas["Mark"][] }) {
  const last = marks.at(-1)
  return (
    <NotePart title="Marks">
      <p className="text-[13px]">
        {marks.length} progress readings, the last {percent(last?.fraction ?? 0, 0)}
        {last?.temperature_c !== null &&
          last?.temperature_c !== undefined &&
          ` at ${compact(last.temperature_c)} °C`}
        .
      </p>
    </NotePart>
  )
}

function History({ detail, measure }: { detail: Schemas["RunDetail"]; measure: string }) {
  if (detail.revisions.length === 0) return null
  return (
    <NotePart title="History">
      <ol className="text-[13px]">
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
                    bound: before.bound ?? false,
                    approximate: before.approximate ?? false,
                  },
                  measure,
                )}
                , {before.status}; {revision.who}, {moment(revision.changed_at)}
              </span>
            </li>
          )
        })}
      </ol>
    </NotePart>
  )
}

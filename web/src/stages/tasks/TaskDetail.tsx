import { Link } from "@tanstack/react-router"
import { useChangeTask } from "../../api/changes"
import { type Problem, problemOf, type Schemas } from "../../api/client"
import { EditCell } from "../../parts/EditCell"
import { clock, compact, count, percent } from "../../theme/format"
import { readLength } from "./readLength"

type Task = Schemas["Task"]
type Outcome = { saved: true } | { saved: false; reason: string }
const TEXTS = [
  ["name", "Name"],
  ["app", "App"],
  ["timeline", "Timeline"],
  ["operation", "Operation"],
  ["settings", "Settings"],
] as const

/** One task: what is done, and what its runs say of it so far. */
export function TaskDetail({ slug, sheet }: { slug: string; sheet: Schemas["TaskSheet"] }) {
  const { task } = sheet
  const change = useChangeTask(slug)
  const send = saver(task, (version, values) =>
    change.mutateAsync({ id: task.id, body: { version, ...values } }),
  )
  return (
    <section aria-label={task.name} className="max-w-2xl">
      <dl className="grid grid-cols-[110px_minmax(0,1fr)] items-start border-t border-line">
        {TEXTS.map(([field, title]) => (
          <Row key={field} title={title}>
            <EditCell
              label={`${title} of the task`}
              shown={task[field] ?? ""}
              text={task[field] ?? ""}
              onSave={(text) => send({ [field]: text.trim() || null })}
              theirs={(problem) => String(problem.current?.[field] ?? "")}
            />
          </Row>
        ))}
        <Row title="Length">
          <EditCell
            label="Length of the timeline"
            shown={task.timeline_length_s === null ? "" : clock(task.timeline_length_s)}
            text={task.timeline_length_s === null ? "" : clock(task.timeline_length_s)}
            onSave={(text) => saveLength(task, text, send)}
            theirs={(problem) => lengthIn(problem)}
          />
        </Row>
        <Row title="Measure">
          <span className="block px-1 py-1">
            {task.measure === "time" ? "elapsed time, less is better" : "an amount, more is better"}
            {task.unit && task.measure === "amount" && `, in ${task.unit}`}
          </span>
        </Row>
        {task.measure === "time" && task.work !== null && (
          <Row title="Work of a run">
            <span className="block px-1 py-1">
              {task.unit === "s"
                ? `${clock(task.work)} of timeline`
                : `${compact(task.work)} ${task.unit ?? ""}`}
            </span>
          </Row>
        )}
      </dl>
      <p className="mt-3">
        {count(sheet.runs, "run")} on {count(sheet.setups, "setup")}.{" "}
        {sheet.spread_cv !== null && (
          <>
            Runs of one setup differ by {percent(sheet.spread_cv)} ({sheet.spread_basis}).{" "}
          </>
        )}
        {sheet.tells_nothing && "Every pair is level: this task tells nothing apart. "}
        <Link
          to="/s/$slug/margins"
          params={{ slug }}
          search={{ task: task.id }}
          className="underline"
        >
          See its margins
        </Link>
      </p>
    </section>
  )
}

function Row({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="h-full border-b border-line py-1.5 text-[13px] text-mute">{title}</dt>
      <dd className="h-full min-w-0 border-b border-line">{children}</dd>
    </>
  )
}

type Send = (values: Partial<Schemas["TaskChange"]>) => Promise<Outcome>

/** Sends changes with the version that was read; a conflict brings the version that stands now. */
function saver(
  task: Task,
  send: (version: number, values: Partial<Schemas["TaskChange"]>) => Promise<unknown>,
): Send {
  let { version } = task
  return async (values) => {
    try {
      await send(version, values)
      return { saved: true }
    } catch (error) {
      const current = problemOf(error)?.current?.version
      if (typeof current === "number") version = current
      throw error
    }
  }
}

async function saveLength(task: Task, text: string, send: Send): Promise<Outcome> {
  if (!task.timeline) return { saved: false, reason: "Name the timeline first." }
  const seconds = readLength(text)
  if (seconds === null) return { saved: false, reason: "Type it like 11:00 or 660 s." }
  const work = task.measure === "time" && (task.unit === "s" || task.unit === null)
  return send({
    timeline: task.timeline,
    timeline_length_s: seconds,
    ...(work ? { work: seconds, unit: "s" } : {}),
  })
}

function lengthIn(problem: Problem): string {
  const length = problem.current?.timeline_length_s
  return typeof length === "number" ? clock(length) : ""
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { useState } from "react"
import { useChangeTask } from "../../api/changes"
import { type Problem, problemOf } from "../../api/client"
import { taskWordsQuery } from "../../api/tasks"
import { EditCell } from "../../parts/EditCell"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading } from "../../parts/Reading"
import { clock, compact, count, percent } from "../../theme/format"
import { ExportSettings } from "./ExportSettings"
import { JobChange } from "./JobChange"
import { type Change, changesJob, readWork, type Sheet } from "./job"
import { readLength } from "./readLength"

type Outcome = { saved: true } | { saved: false; reason: string }
const TEXTS = [
  ["name", "Name"],
  ["app", "App"],
  ["timeline", "Timeline"],
] as const
const EVENTS = [
  ["starts_when", "Starts when"],
  ["ends_when", "Ends when"],
] as const
const MEASURES = {
  time: "elapsed time, less is better",
  amount: "an amount, more is better",
  observation: "looked at, not timed: the preview quality that is held",
} as const

/** One task: what is done, with which settings, and what its runs say of it so far. */
export function TaskDetail({
  slug,
  sheet,
  onOpen,
}: {
  slug: string
  sheet: Sheet
  /** Opens another task, such as the revision that follows this one. */
  onOpen: (taskId: string) => void
}) {
  const { task } = sheet
  const words = useQuery(taskWordsQuery).data
  const reading = useReading()
  const change = useChangeTask(slug)
  const [pending, setPending] = useState<Change | null>(null)
  const [stale, setStale] = useState<number | null>(null)
  const version = Math.max(stale ?? 0, task.version)
  const store = async (values: Change) => {
    const stored = await change.mutateAsync({ id: task.id, body: { version, ...values } })
    setPending(null)
    if (stored.id !== task.id) onOpen(stored.id)
  }
  const send = async (values: Change): Promise<Outcome> => {
    if (changesJob(sheet, values)) {
      change.reset()
      setPending(values)
      return { saved: true }
    }
    try {
      await store(values)
      return { saved: true }
    } catch (error) {
      const problem = problemOf(error)
      if (problem?.status === 422) return { saved: false, reason: problem.detail }
      const current = problem?.current?.version
      if (typeof current === "number") setStale(current)
      throw error
    }
  }
  return (
    <section aria-label={task.name} className="max-w-2xl">
      {sheet.followed_by && (
        <p className="mb-2 border-l-4 border-accent pl-2">
          An earlier revision: a setting changed after these runs.{" "}
          <button
            type="button"
            className="underline"
            onClick={() => onOpen(sheet.followed_by ?? "")}
          >
            Open the one that follows
          </button>
        </p>
      )}
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
            {field === "app" && sheet.versions.length > 0 && (
              <span className="block px-1 pb-1 text-[13px] text-mute">
                {sheet.versions.map((each) => `${each.version} in ${each.round}`).join(", ")}
              </span>
            )}
          </Row>
        ))}
        <Row title="Length">
          <EditCell
            label="Length of the timeline"
            shown={task.timeline_length_s === null ? "" : clock(task.timeline_length_s)}
            text={task.timeline_length_s === null ? "" : clock(task.timeline_length_s)}
            onSave={(text) => saveLength(sheet, text, send)}
            theirs={(problem) => lengthIn(problem)}
          />
        </Row>
        <Row title="Operation">
          <select
            aria-label="Operation of the task"
            disabled={reading}
            className="w-full bg-transparent px-1 py-1"
            value={task.operation ?? ""}
            onChange={(event) => {
              const operation = words?.operations.find((each) => each === event.target.value)
              void send({
                operation: (operation ?? null) as NonNullable<Change["operation"]> | null,
              })
            }}
          >
            <option value="">–</option>
            {words?.operations.map((each) => (
              <option key={each}>{each}</option>
            ))}
          </select>
        </Row>
        <Row title="Export settings">
          <ExportSettings sheet={sheet} onSave={(settings) => send({ settings })} />
        </Row>
        {task.measure !== "observation" &&
          EVENTS.map(([field, title]) => (
            <Row key={field} title={title}>
              <EditCell
                label={`${title} of the task`}
                shown={task[field] ?? ""}
                text={task[field] ?? ""}
                choices={words?.events ?? []}
                onSave={(text) => send({ [field]: text.trim() || null })}
                theirs={(problem) => String(problem.current?.[field] ?? "")}
              />
            </Row>
          ))}
        <Row title="Measure">
          <span className="block px-1 py-1">
            {MEASURES[task.measure as keyof typeof MEASURES]}
            {task.unit && task.measure === "amount" && `, in ${task.unit}`}
          </span>
        </Row>
        {task.measure === "time" && (
          <Row title="Work of a run">
            <EditCell
              label="Work of a run"
              shown={workWords(sheet)}
              text={task.work === null ? "" : `${compact(task.work)} ${task.unit ?? ""}`.trim()}
              onSave={(text) => saveWork(text, send)}
              theirs={(problem) => String(problem.current?.work ?? "")}
            />
          </Row>
        )}
        <Row title="Note">
          <EditCell
            label="Note of the task"
            shown={task.note ?? ""}
            text={task.note ?? ""}
            onSave={(text) => send({ note: text.trim() || null })}
            theirs={(problem) => String(problem.current?.note ?? "")}
          />
        </Row>
      </dl>
      {pending ? (
        <JobChange
          name={task.name}
          runs={sheet.runs}
          busy={change.isPending}
          error={change.error}
          onRevise={() => void store(pending).catch(() => undefined)}
          onCorrect={(correction) => void store({ ...pending, correction }).catch(() => undefined)}
          onCancel={() => setPending(null)}
        />
      ) : (
        change.error !== null && <ProblemNote error={change.error} />
      )}
      {task.measure !== "observation" && <SoFar slug={slug} sheet={sheet} />}
    </section>
  )
}

function SoFar({ slug, sheet }: { slug: string; sheet: Sheet }) {
  return (
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
        search={{ task: sheet.task.id }}
        className="underline"
      >
        See its margins
      </Link>
    </p>
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

type Send = (values: Change) => Promise<Outcome>

function workWords({ task }: Sheet): string {
  if (task.work === null) return ""
  return task.unit === "s"
    ? `${clock(task.work)} of timeline`
    : `${compact(task.work)} ${task.unit ?? ""}`
}

async function saveWork(text: string, send: Send): Promise<Outcome> {
  if (!text.trim()) return send({ work: null, unit: null })
  const read = readWork(text)
  if (!read) return { saved: false, reason: "Type a number and its unit, like 260 photos." }
  return send(read)
}

async function saveLength({ task }: Sheet, text: string, send: Send): Promise<Outcome> {
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

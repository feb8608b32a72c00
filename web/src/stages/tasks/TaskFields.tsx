import { useQuery } from "@tanstack/react-query"
import type { Problem } from "../../api/client"
import { taskWordsQuery } from "../../api/tasks"
import { EditCell } from "../../parts/EditCell"
import { useReading } from "../../parts/Reading"
import type { Outcome } from "../../parts/useEdit"
import { clock, compact } from "../../theme/format"
import { readLength } from "../../theme/readLength"
import { ExportSettings } from "./ExportSettings"
import { type Change, readWork, type Sheet } from "./job"
import { MeasureRow } from "./MeasureRow"
import { SensitiveTo } from "./SensitiveTo"

const TEXTS = [
  ["own_name", "Name"],
  ["app", "App"],
  ["timeline", "Timeline"],
] as const
const EVENTS = [
  ["starts_when", "Start when"],
  ["ends_when", "Stop when"],
] as const
/** What is done in a task, with which settings: each line is changed in place. */
export function TaskFields({ slug, sheet, send }: { slug: string; sheet: Sheet; send: Send }) {
  const { task } = sheet
  const words = useQuery(taskWordsQuery).data
  return (
    <dl className="grid grid-cols-[6.875rem_minmax(0,1fr)] items-start border-t border-line">
      {TEXTS.map(([field, title]) => (
        <Row key={field} title={title}>
          <EditCell
            label={`${title} of the task`}
            shown={task[field] ?? ""}
            text={task[field] ?? ""}
            onSave={(text) =>
              send({ [field === "own_name" ? "name" : field]: text.trim() || null })
            }
            theirs={(problem) => String(problem.current?.[field] ?? "")}
          />
          {field === "own_name" && task.name !== task.own_name && (
            <span className="block px-1 pb-1 text-13 text-mute">told apart as {task.name}</span>
          )}
          {field === "app" && sheet.versions.length > 0 && (
            <span className="block px-1 pb-1 text-13 text-mute">
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
      <Operation sheet={sheet} send={send} />
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
        <MeasureRow key={task.measure} slug={slug} sheet={sheet} />
      </Row>
      {task.measure === "amount" && (
        <Row title="Unit">
          <EditCell
            label="Unit of the amount"
            shown={task.unit ?? ""}
            text={task.unit ?? ""}
            onSave={(text) => send({ unit: text.trim() || null })}
            theirs={(problem) => String(problem.current?.unit ?? "")}
          />
        </Row>
      )}
      {task.measure === "time" && (
        <Row title="Amount of work per run">
          <EditCell
            label="Amount of work per run"
            shown={workWords(sheet)}
            text={task.work === null ? "" : `${compact(task.work)} ${task.unit ?? ""}`.trim()}
            onSave={(text) => saveWork(text, send)}
            theirs={(problem) => String(problem.current?.work ?? "")}
          />
        </Row>
      )}
      {task.measure === "time" && (
        <Row title="Sensitive to">
          <SensitiveTo sheet={sheet} send={send} />
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
  )
}

function Operation({ sheet: { task }, send }: { sheet: Sheet; send: Send }) {
  const words = useQuery(taskWordsQuery).data
  const reading = useReading()
  return (
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
  )
}

function Row({ title, children }: { title: string; children: React.ReactNode }) {
  return (
    <>
      <dt className="h-full border-b border-line py-1.5 text-13 text-mute">{title}</dt>
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

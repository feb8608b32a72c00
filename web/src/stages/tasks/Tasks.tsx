import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import type { Schemas } from "../../api/client"
import { tasksQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { FromRoom } from "../../parts/FromRoom"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading, Writes } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { count } from "../../theme/format"
import { AddTask } from "./AddTask"
import { Rounds } from "./Rounds"
import { SamenessGrid } from "./SamenessGrid"
import { TaskDetail } from "./TaskDetail"
import { TimelineSheet } from "./TimelineSheet"

type Sheet = Schemas["TaskSheet"]

/** What is timed or looked at, grouped by timeline; the chosen task at the right. */
export function Tasks() {
  const { slug } = useParams({ from: "/s/$slug/tasks" })
  const { task, focus } = useSearch({ from: "/s/$slug/tasks" })
  const navigate = useNavigate({ from: "/s/$slug/tasks" })
  const { data, error } = useQuery(tasksQuery(slug))
  const empty = data?.length === 0
  const reading = useReading()
  const adding = focus === "add" || empty
  const chosen = adding ? undefined : (data?.find((each) => each.task.id === task) ?? data?.[0])
  const open = (id: string) => void navigate({ search: { task: id } })
  return (
    <StagePage
      title="Tasks"
      aside="what you time"
      tools={
        !adding && (
          <Writes>
            <button
              type="button"
              className="btn btn-primary btn-sm"
              onClick={() => void navigate({ search: { focus: "add" } })}
            >
              Add task
            </button>
          </Writes>
        )
      }
    >
      <ProblemNote error={error} />
      {empty && (
        <EmptyStage title="What will you time?">
          <p>
            A task is one job you time on every machine, e.g. “Holiday film, UHD export” in one
            editor. Same project, same settings everywhere.
          </p>
        </EmptyStage>
      )}
      <div className="grid gap-6 md:grid-cols-[minmax(12.5rem,18.75rem)_minmax(0,1fr)]">
        {!empty && data && <TaskList sheets={data} chosen={chosen?.task.id} onOpen={open} />}
        <div className="min-w-0">
          {adding && !reading && data && (
            <AddTask
              slug={slug}
              sheets={data}
              onAdded={open}
              onClose={empty ? undefined : () => void navigate({ search: {} })}
            />
          )}
          {adding && <FromRoom slug={slug} what="tasks" />}
          {chosen && (
            <TaskDetail
              key={chosen.task.id}
              slug={slug}
              sheet={chosen}
              apps={data?.map((each) => each.task.app) ?? []}
              onOpen={open}
            />
          )}
          {chosen?.task.timeline_id && (
            <TimelineSheet
              key={chosen.task.timeline_id}
              slug={slug}
              timelineId={chosen.task.timeline_id}
            />
          )}
          {chosen && <SamenessGrid key={`same ${chosen.task.id}`} slug={slug} sheet={chosen} />}
          {!adding && <Rounds slug={slug} sheets={data ?? []} />}
        </div>
      </div>
    </StagePage>
  )
}

function TaskList({
  sheets,
  chosen,
  onOpen,
}: {
  sheets: Sheet[]
  chosen: string | undefined
  onOpen: (id: string) => void
}) {
  const timelines = [...new Set(sheets.map((sheet) => sheet.task.timeline))]
  return (
    <nav aria-label="Tasks by timeline" className="min-w-0">
      {timelines.map((timeline) => (
        <section key={timeline ?? ""} className="mb-4">
          <h2 className="border-b border-line pb-1 text-13 break-words text-mute">
            {timeline ?? "no timeline"}
          </h2>
          <ul>
            {sheets
              .filter((sheet) => sheet.task.timeline === timeline)
              .map(({ task, runs, tells_nothing }) => (
                <li key={task.id} className="border-b border-line">
                  <button
                    type="button"
                    aria-current={task.id === chosen ? "true" : undefined}
                    className={`w-full px-2 py-1.5 text-left ${task.id === chosen ? "bg-pick" : "hover:bg-base-200"}`}
                    onClick={() => onOpen(task.id)}
                  >
                    <span className="block font-bold break-words">{task.name}</span>
                    <span className="block text-13 text-mute">
                      {task.app} ·{" "}
                      {task.measure === "observation" ? "watched, not timed" : count(runs, "run")}
                      {tells_nothing && <span className="text-accent"> · no difference found</span>}
                    </span>
                  </button>
                </li>
              ))}
          </ul>
        </section>
      ))}
    </nav>
  )
}

import { Link } from "@tanstack/react-router"
import { ProblemNote } from "../../parts/ProblemNote"
import { count, percent } from "../../theme/format"
import { InAnotherApp } from "./InAnotherApp"
import { JobChange } from "./JobChange"
import type { Sheet } from "./job"
import { TaskFields } from "./TaskFields"
import { useTaskChange } from "./useTaskChange"

/** One task: what is done, with which settings, and what its runs say of it so far. */
export function TaskDetail({
  slug,
  sheet,
  apps,
  onOpen,
}: {
  slug: string
  sheet: Sheet
  /** Apps that are known here. */
  apps: string[]
  /** Opens another task, such as the revision that follows this one. */
  onOpen: (taskId: string) => void
}) {
  const { task } = sheet
  const { change, pending, drop, store, send } = useTaskChange(sheet, onOpen, slug)
  return (
    <section aria-label={task.name} className="max-w-2xl">
      {sheet.followed_by && (
        <p className="mb-2 border-l-4 border-accent pl-2">
          An earlier version: a setting changed after these runs.{" "}
          <button
            type="button"
            className="underline"
            onClick={() => onOpen(sheet.followed_by ?? "")}
          >
            Open the one that follows
          </button>
        </p>
      )}
      <TaskFields slug={slug} sheet={sheet} send={send} />
      {pending ? (
        <JobChange
          name={task.name}
          runs={sheet.runs}
          busy={change.isPending}
          error={change.error}
          onRevise={() => void store(pending).catch(() => undefined)}
          onCorrect={(correction) => void store({ ...pending, correction }).catch(() => undefined)}
          onCancel={drop}
        />
      ) : (
        change.error !== null && <ProblemNote error={change.error} />
      )}
      {task.measure !== "observation" && <SoFar slug={slug} sheet={sheet} />}
      <InAnotherApp slug={slug} sheet={sheet} apps={apps} onOpen={onOpen} />
    </section>
  )
}

function SoFar({ slug, sheet }: { slug: string; sheet: Sheet }) {
  if (sheet.runs === 0) return <NoRuns slug={slug} />
  return (
    <p className="mt-3">
      {count(sheet.runs, "run")} on {count(sheet.setups, "setup")}.{" "}
      {sheet.spread_cv !== null && (
        <>
          Runs vary by {percent(sheet.spread_cv)} ({sheet.spread_basis}).{" "}
        </>
      )}
      {sheet.tells_nothing && "No difference found: every machine takes the same time. "}
      <Link
        to="/s/$slug/margins"
        params={{ slug }}
        search={{ task: sheet.task.id }}
        className="underline"
      >
        See its ranking
      </Link>
    </p>
  )
}

/** A task that nobody timed: the two ways to put a first run to it. */
function NoRuns({ slug }: { slug: string }) {
  return (
    <p className="mt-3">
      <strong>No runs yet.</strong>{" "}
      <Link to="/s/$slug/bench" params={{ slug }} className="underline">
        Time it
      </Link>{" "}
      or{" "}
      <Link to="/s/$slug/runs" params={{ slug }} className="underline">
        type a time
      </Link>
      .
    </p>
  )
}

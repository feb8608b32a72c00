import { Link } from "@tanstack/react-router"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { usePartTasks } from "../../api/room"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"

/** A standing task with the tasks of shootouts that it is; one that is another job is parted. */
export function StandingTask({ task }: { task: Schemas["RoomTask"] }) {
  const [open, setOpen] = useState(false)
  const part = usePartTasks()
  return (
    <li className="border-b border-line py-2">
      <div className="flex flex-wrap items-baseline gap-x-4 gap-y-1">
        <span className="min-w-0 flex-1 break-words">
          <span className="font-head text-15 font-bold">{task.name}</span>{" "}
          <span className="text-13 text-mute">
            in {task.app}
            {task.demo && " (demo)"}
          </span>
        </span>
        <button
          type="button"
          aria-expanded={open}
          className="text-13 underline"
          onClick={() => setOpen(!open)}
        >
          {count(new Set(task.uses.map((use) => use.slug)).size, "shootout")}
        </button>
        <Link to="/all-time" search={{ task: task.id }} className="text-13 underline">
          All time
        </Link>
      </div>
      {open && (
        <ul className="mt-1 text-13">
          {task.uses.map((use) => (
            <li key={use.id} className="flex flex-wrap gap-x-3 py-0.5">
              <Link to="/s/$slug/tasks" params={{ slug: use.slug }} className="underline">
                {use.shootout}
              </Link>
              <button
                type="button"
                className="text-mute underline"
                aria-label={`${use.shootout}: not the same job`}
                disabled={part.isPending}
                onClick={() => part.mutate({ task_ids: [use.id] })}
              >
                not the same job
              </button>
            </li>
          ))}
        </ul>
      )}
      <ProblemNote error={part.error} />
    </li>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link, useNavigate, useSearch } from "@tanstack/react-router"
import { useEffect } from "react"
import type { Schemas } from "../../api/client"
import { allTimeQuery, standingQuery } from "../../api/room"
import { HomeTop } from "../../frame/HomeTop"
import { ProblemNote } from "../../parts/ProblemNote"
import { count } from "../../theme/format"
import { Beside } from "./Beside"
import { BestOfEach, Ranking } from "./Ranking"
import { TimeChart } from "./TimeChart"

/** A standing task over every machine that was ever timed on it. */
export function AllTime() {
  const { data: tasks, error } = useQuery(standingQuery)
  const { task } = useSearch({ from: "/all-time" })
  const chosen = tasks?.find((each) => each.id === task) ?? tasks?.[0]
  useEffect(() => {
    document.title = "All time · True Margin"
  }, [])
  return (
    <div className="flex min-h-screen flex-col">
      <HomeTop />
      <ProblemNote error={error} />
      {tasks?.length === 0 && <NoneYet />}
      {tasks && chosen && (
        <div className="flex flex-1 flex-col lg:flex-row">
          <Choices tasks={tasks} chosen={chosen.id} />
          <Shown id={chosen.id} />
        </div>
      )}
    </div>
  )
}

function NoneYet() {
  return (
    <main className="mx-auto max-w-2xl px-4 py-10">
      <h1 className="text-26 leading-8">No standing task yet.</h1>
      <p className="mt-3">
        A standing task is one job that you time on every machine, unchanged, for years. Once two
        shootouts share one, every machine you ever timed on it is ranked here, as of the newest
        version of its app.
      </p>
      <p className="mt-4">
        <Link to="/room" className="btn btn-primary btn-sm">
          Choose one in the store room
        </Link>
      </p>
    </main>
  )
}

function Choices({ tasks, chosen }: { tasks: Schemas["StandingChoice"][]; chosen: string }) {
  const navigate = useNavigate()
  return (
    <nav
      aria-label="Standing tasks"
      className="shrink-0 border-line bg-base-200 py-4 lg:w-54 lg:border-r"
    >
      <h2 className="px-4 pb-2 text-17">Standing tasks</h2>
      <ul className="max-lg:flex max-lg:flex-wrap max-lg:gap-1 max-lg:px-3">
        {tasks.map((task) => (
          <li key={task.id}>
            <button
              type="button"
              aria-current={task.id === chosen ? "true" : undefined}
              className={`w-full px-4 py-2 text-left max-lg:px-3 ${task.id === chosen ? "jawed bg-base-100" : ""}`}
              onClick={() => void navigate({ to: "/all-time", search: { task: task.id } })}
            >
              <span className="block font-head text-14 leading-5 font-bold">{task.name}</span>
              <span className="block text-12 text-mute">
                {task.app}, {count(task.shootouts, "shootout")}
                {task.demo && " (demo)"}
              </span>
            </button>
          </li>
        ))}
      </ul>
      <p className="px-4 pt-4 text-13 text-mute">
        The same project, kept unchanged, timed on every machine.{" "}
        <Link to="/room" className="underline">
          Make a task standing
        </Link>
      </p>
    </nav>
  )
}

function Shown({ id }: { id: string }) {
  const { data: view, error } = useQuery(allTimeQuery(id))
  return (
    <>
      <main className="min-w-0 flex-1 px-4 pt-5 pb-8 md:px-6">
        <ProblemNote error={error} />
        {view && (
          <>
            <p className="text-13 text-mute">{view.name}</p>
            <h1 className="text-26 leading-8 break-words">{view.headline}</h1>
            <p className="mt-1 mb-4 max-w-3xl text-16 leading-6">{view.sentence}</p>
            {view.lines.some((line) => line.value !== null) && (
              <>
                <TimeChart view={view} />
                <Ranking view={view} />
                <BestOfEach view={view} />
              </>
            )}
          </>
        )}
      </main>
      {view && <Beside view={view} />}
    </>
  )
}

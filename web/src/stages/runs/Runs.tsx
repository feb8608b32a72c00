import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback, useState } from "react"
import { lineupQuery, roundsQuery, runsQuery, tasksQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { StagePage } from "../../parts/StagePage"
import { count } from "../../theme/format"
import { EVERYTHING } from "./cells"
import { EntryLine } from "./EntryLine"
import { ImportPanel } from "./ImportPanel"
import { RunBook } from "./RunBook"
import { RunFilter } from "./RunFilter"
import { RunNote } from "./RunNote"

/** The book of runs: entry on top, every run below, nothing deleted. */
export function Runs() {
  const { slug } = useParams({ from: "/s/$slug/runs" })
  const { run, focus } = useSearch({ from: "/s/$slug/runs" })
  const navigate = useNavigate({ from: "/s/$slug/runs" })
  const book = useQuery(runsQuery(slug))
  const lineup = useQuery(lineupQuery(slug)).data
  const tasks = useQuery(tasksQuery(slug)).data
  const rounds = useQuery(roundsQuery(slug)).data
  const [filter, setFilter] = useState(EVERYTHING)
  const close = useCallback(() => void navigate({ search: {} }), [navigate])
  const open = useCallback((id: string) => void navigate({ search: { run: id } }), [navigate])
  const flagged = book.data?.runs.filter((each) => each.flags.length > 0).length ?? 0
  const importing = focus === "import"
  return (
    <>
      <StagePage
        title="Runs"
        aside={book.data && `${count(book.data.runs.length, "run")} in the book`}
        tools={
          !importing && (
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => void navigate({ search: { focus: "import" } })}
            >
              Paste or import
            </button>
          )
        }
      >
        <ProblemNote error={book.error} />
        {importing ? (
          <ImportPanel slug={slug} onClose={close} />
        ) : (
          <>
            <EntryLine slug={slug} />
            {book.data?.runs.length === 0 && (
              <EmptyStage title="No runs yet">
                <p>
                  Type the first one above: setup, task and time, divided by a slash. Times as you
                  would write them: 6:17, 6m17s, 377 s, 18.4 min.
                </p>
              </EmptyStage>
            )}
            {book.data && book.data.runs.length > 0 && lineup && tasks && rounds && (
              <RunFilter
                filter={filter}
                setups={lineup.setups}
                tasks={tasks.map((each) => each.task)}
                rounds={rounds}
                flagged={flagged}
                onFilter={setFilter}
              />
            )}
            {book.data && lineup && tasks && rounds && (
              <RunBook
                book={book.data}
                setups={lineup.setups}
                tasks={tasks.map((each) => each.task)}
                rounds={rounds}
                filter={filter}
                chosen={run}
                onOpen={open}
              />
            )}
          </>
        )}
      </StagePage>
      {run && <RunNote key={run} slug={slug} id={run} onClose={close} />}
    </>
  )
}

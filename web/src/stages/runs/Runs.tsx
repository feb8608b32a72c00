import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback, useState } from "react"
import { lineupQuery, roundsQuery, runsQuery, tasksQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { count, plain } from "../../theme/format"
import { EVERYTHING } from "./cells"
import { EntryLine } from "./EntryLine"
import { ImportPanel } from "./ImportPanel"
import type { LastChange } from "./lastChange"
import { ReviseMany } from "./ReviseMany"
import { RunBook } from "./RunBook"
import { RunFilter } from "./RunFilter"
import { RunNote } from "./RunNote"
import { TakeBack } from "./TakeBack"

const NONE: ReadonlySet<string> = new Set()

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
  const [last, setLast] = useState<LastChange | null>(null)
  const [several, setSeveral] = useState<ReadonlySet<string> | null>(null)
  const chosenRuns = (book.data?.runs ?? []).flatMap(({ run: each }) =>
    several?.has(each.id) ? [each] : [],
  )
  const toggle = (id: string) => {
    const next = new Set(several)
    if (!next.delete(id)) next.add(id)
    setSeveral(next)
  }
  const reads = useReading()
  const importing = focus === "import" && !reads
  return (
    <>
      <StagePage
        title="Runs"
        aside={book.data && `${count(book.data.runs.length, "run")} in the book`}
        tools={
          !importing &&
          !reads && (
            <>
              {!several && (book.data?.runs.length ?? 0) > 0 && (
                <button
                  type="button"
                  className="btn btn-sm"
                  onClick={() => {
                    close()
                    setSeveral(new Set())
                  }}
                >
                  Change several
                </button>
              )}
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => void navigate({ search: { focus: "import" } })}
              >
                Paste or import
              </button>
            </>
          )
        }
      >
        <ProblemNote error={book.error} />
        {importing ? (
          <ImportPanel slug={slug} onClose={close} />
        ) : (
          <>
            {!reads && <EntryLine slug={slug} onStored={setLast} />}
            {last && (
              <TakeBack
                key={last.runs.map((each) => `${each.id}${each.version}`).join()}
                slug={slug}
                last={last}
                onTaken={() => setLast(null)}
              />
            )}
            {several && (
              <ReviseMany
                slug={slug}
                runs={chosenRuns}
                onDone={(change) => {
                  setLast(change)
                  setSeveral(new Set())
                }}
                onClose={() => setSeveral(null)}
              />
            )}
            {book.data?.runs.length === 0 && (
              <EmptyStage title="No runs yet">
                <p>
                  Type the first one above: setup, task and time, divided by a slash. Times as you
                  would write them: 6:17, 6m17s, 377 s, {plain(18.4)} min.
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
                chosen={several ?? (run ? new Set([run]) : NONE)}
                layout={`${last !== null} ${several !== null}`}
                onOpen={several ? toggle : open}
              />
            )}
          </>
        )}
      </StagePage>
      {run && <RunNote key={run} slug={slug} id={run} onChanged={setLast} onClose={close} />}
    </>
  )
}

import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback, useState } from "react"
import type { Schemas } from "../../api/client"
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
import { SentIn } from "./sent/SentIn"
import { TakeBack } from "./TakeBack"

const NONE: ReadonlySet<string> = new Set()

/** The book of runs: entry on top, every run below, nothing deleted. */
export function Runs() {
  const { slug } = useParams({ from: "/s/$slug/runs" })
  const { run, focus } = useSearch({ from: "/s/$slug/runs" })
  const navigate = useNavigate({ from: "/s/$slug/runs" })
  const book = useQuery(runsQuery(slug))
  const close = useCallback(() => void navigate({ search: {} }), [navigate])
  const open = useCallback((id: string) => void navigate({ search: { run: id } }), [navigate])
  const [undone, setUndone] = useState(0)
  const [last, setLast] = useState<LastChange | null>(null)
  const [several, setSeveral] = useState<ReadonlySet<string> | null>(null)
  const chosenRuns = (book.data?.runs ?? []).flatMap(({ run: each }) =>
    several?.has(each.id) ? [each] : [],
  )
  const toggle = (id: string) => setSeveral(toggled(several, id))
  const reads = useReading()
  const importing = focus === "import" && !reads
  const sentIn = focus === "sent" && !reads
  return (
    <>
      <StagePage
        title={sentIn ? "Sent in by others" : "Runs"}
        aside={!sentIn && book.data && count(book.data.runs.length, "run")}
        tools={
          !importing &&
          !sentIn &&
          !reads && (
            <Tools
              several={
                !several && (book.data?.runs.length ?? 0) > 0
                  ? () => {
                      close()
                      setSeveral(new Set())
                    }
                  : null
              }
              onImport={() => void navigate({ search: { focus: "import" } })}
              onSent={() => void navigate({ search: { focus: "sent" } })}
            />
          )
        }
      >
        <ProblemNote error={book.error} />
        {importing ? (
          <ImportPanel slug={slug} onClose={close} />
        ) : sentIn ? (
          <SentIn slug={slug} onClose={close} />
        ) : (
          <>
            {!reads && <EntryLine slug={slug} undone={undone} onStored={setLast} />}
            {last && (
              <TakeBack
                key={last.runs.map((each) => `${each.id}${each.version}`).join()}
                slug={slug}
                last={last}
                onUndone={() => setUndone((times) => times + 1)}
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
            {book.data?.runs.length === 0 && <NoRuns />}
            {book.data && (
              <Book
                slug={slug}
                book={book.data}
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

/** What can be done with the book beside typing. */
function Tools({
  several,
  onImport,
  onSent,
}: {
  /** Begins to change several runs; null where there is nothing to choose from. */ several:
    | (() => void)
    | null
  onImport: () => void
  onSent: () => void
}) {
  return (
    <>
      <button type="button" className="btn btn-sm btn-ghost" onClick={onSent}>
        Sent in by others
      </button>
      {several && (
        <button type="button" className="btn btn-sm" onClick={several}>
          Change several
        </button>
      )}
      <button type="button" className="btn btn-sm" onClick={onImport}>
        Paste or import
      </button>
    </>
  )
}

function NoRuns() {
  return (
    <EmptyStage title="No runs yet">
      <p>
        Type the first one above: setup, task and time, divided by a slash. Times as you would write
        them: 6:17, 6m17s, 377 s, {plain(18.4)} min.
      </p>
    </EmptyStage>
  )
}

/** The runs as they are filtered; what is chosen is marked. */
function Book({
  slug,
  book,
  chosen,
  layout,
  onOpen,
}: {
  slug: string
  book: Schemas["BookInBrief"]
  chosen: ReadonlySet<string> /** Changes where what stands above does. */
  layout: string
  onOpen: (id: string) => void
}) {
  const lineup = useQuery(lineupQuery(slug)).data
  const tasks = useQuery(tasksQuery(slug)).data
  const rounds = useQuery(roundsQuery(slug)).data
  const [filter, setFilter] = useState(EVERYTHING)
  const flagged = book.runs.filter((each) => each.flags.length > 0).length
  if (!lineup || !tasks || !rounds) return null
  const named = { setups: lineup.setups, tasks: tasks.map((each) => each.task), rounds }
  return (
    <>
      {book.runs.length > 0 && (
        <RunFilter filter={filter} {...named} flagged={flagged} onFilter={setFilter} />
      )}
      <RunBook
        book={book}
        {...named}
        filter={filter}
        chosen={chosen}
        layout={layout}
        onOpen={onOpen}
      />
    </>
  )
}

function toggled(chosen: ReadonlySet<string> | null, id: string): ReadonlySet<string> {
  const next = new Set(chosen)
  if (!next.delete(id)) next.add(id)
  return next
}

import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback } from "react"
import { useChangeShootout } from "../../api/changes"
import { ladderQuery, shootoutQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { CallLegend } from "../../parts/rule/CallLegend"
import { StagePage } from "../../parts/StagePage"
import { percent } from "../../theme/format"
import { Ladder } from "./Ladder"
import { OffLadder } from "./OffLadder"
import { PairNote } from "./PairNote"
import { TaskPicker } from "./TaskPicker"

/** Which setup is ahead, by how much, and how surely. */
export function Margins() {
  const { slug } = useParams({ from: "/s/$slug/margins" })
  const { task, a, b } = useSearch({ from: "/s/$slug/margins" })
  const navigate = useNavigate({ from: "/s/$slug/margins" })
  const ladder = useQuery(ladderQuery(slug, task))
  const shootout = useQuery(shootoutQuery(slug)).data
  const change = useChangeShootout(slug)
  const view = ladder.data
  const picked = [a, b].filter((id): id is string => id !== undefined)

  const pick = (id: string) => {
    const next = picked.includes(id) ? picked.filter((p) => p !== id) : [...picked, id].slice(-2)
    void navigate({
      search: (old) => {
        const { a: _a, b: _b, ...rest } = old
        return {
          ...rest,
          ...(next[0] === undefined ? {} : { a: next[0] }),
          ...(next[1] === undefined ? {} : { b: next[1] }),
        }
      },
    })
  }
  const choose = (key: string) =>
    void navigate({ search: { task: key, ...(a ? { a } : {}), ...(b ? { b } : {}) } })
  const close = useCallback(() => {
    void navigate({ search: ({ a: _a, b: _b, ...rest }) => rest })
  }, [navigate])
  const setBaseline = (id: string) => {
    if (shootout) change.mutate({ version: shootout.version, baseline_setup_id: id })
  }

  if (ladder.error) {
    return (
      <StagePage title="Margins">
        <ProblemNote error={ladder.error} />
      </StagePage>
    )
  }
  if (!view) return <StagePage title="Margins">Reading the book…</StagePage>
  // One picked row is compared with the baseline.
  const other = picked[1] ?? (picked[0] === view.baseline_id ? undefined : view.baseline_id)
  return (
    <>
      <StagePage
        title={<TaskPicker view={view} onChoose={choose} />}
        aside={
          view.round
            ? `as of ${/^round\b/.test(view.round) ? view.round : `the ${view.round} round`}`
            : undefined
        }
      >
        {view.rows.length === 0 ? (
          <EmptyStage title="Nothing to compare yet">
            <p>{view.summary}</p>
            <p>
              Enter runs of two setups on one task in Runs, or time them on the Bench. The ladder
              stands here from the first run on.
            </p>
          </EmptyStage>
        ) : (
          <>
            <p className="mb-3 max-w-3xl font-head text-[17px] leading-6" data-testid="summary">
              {view.summary}
            </p>
            <Ladder
              slug={slug}
              view={view}
              picked={picked}
              onPick={pick}
              onBaseline={setBaseline}
            />
          </>
        )}
        <ProblemNote error={change.error} />
        <OffLadder slug={slug} off={view.off} />
        {view.notes.map((note) => (
          <p key={note} className="mt-3 max-w-3xl text-[13px] text-mute">
            {note}
          </p>
        ))}
        {view.rows.length > 0 && (
          <div className="mt-5 space-y-2">
            <CallLegend />
            <p className="max-w-3xl text-[13px] text-mute">
              Jaws: {percent(view.confidence)} interval against the baseline; the band around 1× is
              what does not matter, {percent(view.materiality)}. A bracket spans the ranks a setup
              may hold.
              {view.spread_cv !== null &&
                ` Runs of one setup differ by ${percent(view.spread_cv)} (${view.spread_basis}).`}
            </p>
          </div>
        )}
      </StagePage>
      {picked[0] !== undefined && other !== undefined && other !== null && (
        <PairNote slug={slug} task={view.key} a={picked[0]} b={other} onClose={close} />
      )}
    </>
  )
}

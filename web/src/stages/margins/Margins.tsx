import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback } from "react"
import { useSetShootout } from "../../api/changes"
import { outOfLineQuery } from "../../api/margins"
import { ladderQuery } from "../../api/queries"
import { ProblemNote } from "../../parts/ProblemNote"
import { StagePage } from "../../parts/StagePage"
import { AllPairs } from "./AllPairs"
import { Fairness } from "./Fairness"
import { FigureNote } from "./FigureNote"
import { LadderView } from "./LadderView"
import { OutOfLine } from "./OutOfLine"
import { PairNote } from "./PairNote"
import { Race } from "./race/Race"
import { SameWork } from "./SameWork"
import { TaskPicker } from "./TaskPicker"
import { Updates } from "./Updates"
import { ViewBar } from "./ViewBar"
import { viewOf } from "./views"

/** Which setup is ahead, by how much, and how surely. */
export function Margins() {
  const { slug } = useParams({ from: "/s/$slug/margins" })
  const { task, a, b, view: name, figure } = useSearch({ from: "/s/$slug/margins" })
  const navigate = useNavigate({ from: "/s/$slug/margins" })
  const ladder = useQuery(ladderQuery(slug, task))
  const odd = useQuery(outOfLineQuery(slug)).data
  const change = useSetShootout(slug)
  const current = viewOf(name)
  const view = ladder.data
  const picked = [a, b].filter((id): id is string => id !== undefined)

  const show = (pair: string[], key = task) =>
    void navigate({
      search: {
        ...(key === undefined ? {} : { task: key }),
        ...(current === "ladder" ? {} : { view: current }),
        ...(pair[0] === undefined ? {} : { a: pair[0] }),
        ...(pair[1] === undefined ? {} : { b: pair[1] }),
      },
    })
  const pick = (id: string) =>
    show(picked.includes(id) ? picked.filter((p) => p !== id) : [...picked, id].slice(-2))
  const choose = (key: string) => show(picked, key)
  const close = useCallback(() => {
    void navigate({ search: ({ a: _a, b: _b, figure: _f, ...rest }) => rest })
  }, [navigate])
  const open = (id: string) =>
    void navigate({ search: ({ a: _a, b: _b, ...rest }) => ({ ...rest, figure: id }) })
  const setBaseline = (id: string) => change.mutate({ baseline_setup_id: id })

  if (ladder.error) {
    return (
      <StagePage title="Margins">
        <ProblemNote error={ladder.error} />
      </StagePage>
    )
  }
  if (!view) return <StagePage title="Margins">Loading…</StagePage>
  // One picked row is compared with the baseline.
  const other = picked[1] ?? (picked[0] === view.baseline_id ? undefined : view.baseline_id)
  const waiting = odd?.findings.filter((finding) => finding.state === "new").length ?? 0
  const asOf = view.round && (/^round\b/.test(view.round) ? view.round : `the ${view.round} round`)
  const ofTask = current !== "rounds" && current !== "work" && current !== "odd"
  return (
    <>
      <StagePage
        title={ofTask ? <TaskPicker slug={slug} view={view} onChoose={choose} /> : "Margins"}
        aside={ofTask && asOf ? `as of ${asOf}` : undefined}
      >
        <ViewBar slug={slug} current={current} task={view.key} waiting={{ odd: waiting }} />
        {current === "ladder" && (
          <LadderView
            slug={slug}
            view={view}
            picked={picked}
            onPick={pick}
            onBaseline={setBaseline}
            onFigure={open}
            error={change.error}
          />
        )}
        {current === "pairs" && (
          <AllPairs slug={slug} task={view.key} onPair={(one, two) => show([one, two])} />
        )}
        {current === "race" && <Race key={view.key} slug={slug} task={view.key} />}
        {current === "rounds" && <Updates slug={slug} />}
        {current === "fairness" && (
          <Fairness slug={slug} task={view.key} onPair={(one, two, key) => show([one, two], key)} />
        )}
        {current === "work" && <SameWork slug={slug} materiality={view.materiality} />}
        {current === "odd" && <OutOfLine slug={slug} />}
      </StagePage>
      {figure !== undefined ? (
        <FigureNote slug={slug} task={view.key} setup={figure} onClose={close} />
      ) : (
        picked[0] !== undefined &&
        other && <PairNote slug={slug} task={view.key} a={picked[0]} b={other} onClose={close} />
      )}
    </>
  )
}

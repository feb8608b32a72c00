import { useQuery } from "@tanstack/react-query"
import { Link, useParams } from "@tanstack/react-router"
import { useState } from "react"
import { clientKey } from "../../../api/changes"
import type { Schemas } from "../../../api/client"
import { lineupQuery, tasksQuery } from "../../../api/queries"
import { benchOf, useBench } from "../../../lanes/bench"
import { type Cut, marksOf, runOf, whyNot } from "../../../lanes/film/cut"
import type { Frames } from "../../../lanes/film/decode"
import { rateOf } from "../../../lanes/film/frames"
import { isWaiting } from "../../../lanes/outbox"
import { PickFile } from "../../../parts/PickFile"
import { ProblemNote } from "../../../parts/ProblemNote"
import { StagePage } from "../../../parts/StagePage"
import { SPOKEN } from "../../../reach/spoken"
import { compact } from "../../../theme/format"
import { LaneResult } from "../LaneResult"
import { onDesk } from "../useBenchStage"
import { CutRow } from "./CutRow"
import { Player } from "./Player"
import { type Shown, useFilm } from "./useFilm"
import { useFilmKeys } from "./useFilmKeys"
import { useProof } from "./useProof"

const FILMS = "video/*,.mp4,.mov,.mkv,.webm"

/** Reads times off a film of one or several screens, frame by frame. */
export function FilmStage() {
  const { slug } = useParams({ from: "/s/$slug/bench" })
  const lineup = useQuery(lineupQuery(slug)).data
  const sheets = useQuery(tasksQuery(slug)).data
  const shown = useFilm()
  const setups = lineup ? onDesk(lineup) : []
  const tasks = (sheets ?? [])
    .filter(({ task }) => task.measure === "time" && !task.superseded)
    .map(({ task }) => task)
  return (
    <StagePage
      title="Read times off a film"
      aside="it stays on this device"
      tools={
        <>
          {shown.frames && <PickFile label="Another film" accept={FILMS} onFile={shown.open} />}
          <Link to="/s/$slug/bench" params={{ slug }} search={{}} className="btn btn-sm">
            Back to the timers
          </Link>
        </>
      }
    >
      <ProblemNote error={shown.error} />
      {shown.frames ? (
        <Reading
          key={shown.frames.film.name}
          slug={slug}
          shown={shown}
          frames={shown.frames}
          setups={setups}
          tasks={tasks}
        />
      ) : (
        <Ask shown={shown} />
      )}
    </StagePage>
  )
}

/** Asks for a film. */
function Ask({ shown }: { shown: Shown }) {
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: the button does the same by key
    <div
      className="grid min-h-64 place-items-center border-2 border-dashed border-line p-6 text-center"
      onDragOver={(event) => event.preventDefault()}
      onDrop={(event) => {
        event.preventDefault()
        const file = event.dataTransfer.files[0]
        if (file) shown.open(file)
      }}
    >
      <div className="max-w-xl">
        {shown.reading !== null ? (
          <p {...SPOKEN}>
            Reading when each frame is shown
            {shown.reading > 0 && (
              <span className="figure"> · {compact(shown.reading)} so far</span>
            )}{" "}
            …
          </p>
        ) : (
          <>
            <p>
              Film one screen or several at once, and drop the film here. Step to the frame at which
              the export begins and to the one at which it is done: the time is as exact as the
              film, and no thumb is in it. Nothing of the film is sent anywhere; of a run that is
              stored, its stills can be kept as proof.
            </p>
            <div className="mt-4">
              <PickFile label="Choose a film" accept={FILMS} onFile={shown.open} />
            </div>
          </>
        )}
      </div>
    </div>
  )
}

/** The film, and the runs that are read off it. */
function Reading({
  slug,
  shown,
  frames,
  setups,
  tasks,
}: {
  slug: string
  shown: Shown
  frames: Frames
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
}) {
  const { state } = useBench(slug)
  const { film } = frames
  const { proofs, keep } = useProof(slug, frames)
  const [cuts, setCuts] = useState<Cut[]>([])
  const [chosen, setChosen] = useState(0)
  const [stored, setStored] = useState<readonly string[]>([])
  const all = cuts.length > 0 ? cuts : [empty(setups[0]?.id ?? "", tasks[0]?.id ?? "", "first")]
  const change = (at: number, changed: Partial<Cut>) =>
    setCuts(all.map((cut, place) => (place === at ? { ...cut, ...changed } : cut)))
  const add = () => {
    const used = all.map((cut) => cut.setupId)
    const next = setups.find((each) => !used.includes(each.id)) ?? setups[0]
    setCuts([...all, empty(next?.id ?? "", all[chosen]?.taskId ?? "", clientKey())])
    setChosen(all.length)
  }
  const store = (at: number) => {
    const cut = all[at]
    if (!cut || whyNot(film, cut) !== null) return
    const id = cut.id === "first" ? clientKey() : cut.id
    benchOf(slug).keepRun(runOf(film, { ...cut, id }), marksOf(film, cut))
    change(at, { id })
    setStored([...stored, id])
  }
  useFilmKeys(shown, chosen, change, (at) => at < all.length && setChosen(at))
  const rate = rateOf(film)
  return (
    <div className="flex flex-wrap gap-6">
      <div className="min-w-0 flex-[2_1_34rem]">
        <Player shown={shown} frames={frames} cut={all[chosen]} />
        <p className="mt-1 text-13 text-mute">
          {film.name} · <span className="figure">{compact(film.times.length)}</span> frames,{" "}
          {rate === null ? (
            "not evenly apart: each is read by its own time"
          ) : (
            <>
              <span className="figure">{compact(rate)}</span> a second
            </>
          )}
        </p>
      </div>
      <div className="min-w-0 flex-[1_1_20rem]">
        {all.map((cut, at) => (
          <CutRow
            key={cut.id}
            film={film}
            frame={shown.frame}
            cut={cut}
            number={at + 1}
            chosen={at === chosen}
            stored={stored.includes(cut.id)}
            waiting={isWaiting(cut.id)}
            proof={proofs[cut.id]}
            onProof={() => keep(cut)}
            setups={setups}
            tasks={tasks}
            onChoose={() => setChosen(at)}
            onChange={(changed) => change(at, changed)}
            onGo={shown.go}
            onStore={() => store(at)}
          />
        ))}
        <button type="button" className="btn btn-sm mt-3" onClick={add}>
          Another machine in this film
        </button>
        <LaneResult
          result={state.result}
          error={state.error}
          pending={state.pending}
          bounced=""
          said
        />
      </div>
    </div>
  )
}

function empty(setupId: string, taskId: string, id: string): Cut {
  return { id, setupId, taskId, start: null, end: null, marks: [] }
}

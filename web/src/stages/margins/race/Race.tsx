import { useQuery } from "@tanstack/react-query"
import { useRef, useState } from "react"
import type { Schemas } from "../../../api/client"
import { raceQuery } from "../../../api/margins"
import { EmptyStage } from "../../../parts/EmptyStage"
import { ProblemNote } from "../../../parts/ProblemNote"
import { singleKeysOn, useKeys } from "../../../parts/useKeys"
import { clock } from "../../../theme/format"
import { RaceControls } from "./RaceControls"
import { RaceLanes } from "./RaceLanes"
import { RaceRuns } from "./RaceRuns"
import { useClock } from "./useClock"

type View = Schemas["RaceView"]

/** One run of each setup, side by side as it went. */
export function Race({ slug, task }: { slug: string; task: string }) {
  const [chosen, setChosen] = useState<Record<string, string>>({})
  const { data: view, error } = useQuery(raceQuery(slug, task, Object.values(chosen)))
  if (error) return <ProblemNote error={error} />
  if (!view) return <p>Loading…</p>
  if (view.problem !== null) {
    return (
      <EmptyStage title="No race yet">
        <p>{view.problem}</p>
        <p>
          Type how far an export is while its timer runs (P and a number on the Bench), and the race
          shows who was ahead when.
        </p>
      </EmptyStage>
    )
  }
  return (
    <Replay
      // Another length is another race: its clock begins anew.
      key={`${view.key} ${view.length_s}`}
      view={view}
      onChoose={(setup, run) => setChosen({ ...chosen, [setup]: run })}
    />
  )
}

function Replay({
  view,
  onChoose,
}: {
  view: View
  onChoose: (setup: string, run: string) => void
}) {
  const race = useClock(view.length_s)
  const stage = useRef<HTMLDivElement>(null)
  useKeys((event) => {
    if (event.key !== " " && !singleKeysOn()) return false
    if (event.key === " ") race.toggle()
    else if (event.key === "ArrowLeft") race.go(race.at - view.length_s / 100)
    else if (event.key === "ArrowRight") race.go(race.at + view.length_s / 100)
    else if (event.key === "Home") race.go(0)
    else if (event.key === "End") race.go(view.length_s)
    else return false
    return true
  })
  const passed = view.moments.filter((moment) => moment.at_s <= race.at)
  const last = race.at > 0 ? passed[passed.length - 1] : undefined
  return (
    <>
      {view.finding && (
        <p className="max-w-3xl font-head text-22 leading-7 font-bold">{view.finding}</p>
      )}
      <div ref={stage} className="race mt-3 bg-base-100">
        <div className="flex flex-wrap items-baseline justify-between gap-x-6">
          <p className="figure text-52 leading-none font-bold" data-testid="race clock">
            {clock(race.at, view.length_s < 60 ? 0.1 : 1)}
          </p>
          <p className="min-h-6 text-16" role="status" aria-live={race.playing ? "polite" : "off"}>
            {last?.words ?? "All start at once."}
          </p>
        </div>
        <RaceLanes view={view} at={race.at} />
        <RaceControls view={view} race={race} stage={stage} />
      </div>
      {view.notes.map((note) => (
        <p key={note} className="mt-2 max-w-3xl text-13 text-mute">
          {note}
        </p>
      ))}
      <RaceRuns view={view} onChoose={onChoose} />
    </>
  )
}

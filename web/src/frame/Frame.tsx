import { useQuery } from "@tanstack/react-query"
import { Link, Outlet, useMatches, useParams } from "@tanstack/react-router"
import { useEffect, useRef, useState } from "react"
import { problemOf } from "../api/client"
import { isAway, lineupQuery, refreshBeside, sheetQuery, shootoutQuery } from "../api/queries"
import { ProblemNote, SignInLink } from "../parts/ProblemNote"
import { Reading } from "../parts/Reading"
import { announce } from "../reach/announce"
import { focusOn, heading } from "../reach/focus"
import { SPOKEN } from "../reach/spoken"
import { Help } from "./Help"
import { NextStrip } from "./NextStrip"
import { RunSheet } from "./RunSheet"
import { MAIN, SkipLink } from "./SkipLink"
import { STAGES, type StageId } from "./stages"
import { TopStrip } from "./TopStrip"
import { useEvents } from "./useEvents"
import { useLaneDigits } from "./useLaneDigits"
import { useLaneSignals } from "./useLaneSignals"
import { useLaneTalk } from "./useLaneTalk"
import { useReads } from "./useReads"
import { useStageKeys } from "./useStageKeys"

/** A page that met a server or database that was away comes back by itself. */
const AGAIN_MS = 3000

/** The frame around every stage of a shootout. */
export function Frame() {
  const { slug } = useParams({ from: "/s/$slug" })
  const shootout = useQuery({
    ...shootoutQuery(slug),
    refetchInterval: (query) => (isAway(query.state.error) ? AGAIN_MS : false),
  })
  const sheet = useQuery(sheetQuery(slug))
  const [help, setHelp] = useState(false)
  const stage = useStage()
  useStageKeys(slug, () => setHelp(true))
  const reads = useReads(shootout.data?.id)
  const running = useLaneDigits(slug, reads === true)
  const signal = useLaneSignals(slug)
  useLaneTalk(slug)
  useEvents(slug)
  useFollowRevision(slug, sheet.data?.revision)
  useHeadingOf(stage)
  useBaselineSaid(slug, sheet.data?.baseline_id)
  const name = STAGES.find((each) => each.id === stage)?.name ?? ""
  const title = shootout.data?.name
  useEffect(() => {
    const clocks = running > 0 ? `● ${running} running · ` : ""
    const news = signal ? `▲ ${signal} · ` : ""
    document.title = `${news}${clocks}${title ? `${name} · ${title} · True Margin` : "True Margin"}`
  }, [name, title, running, signal])
  // What was shown once stays: a database that is away for a moment must not take the lanes away.
  if (shootout.error && !shootout.data) {
    return (
      <div className="p-6">
        <ProblemNote error={shootout.error} />
        <Link to="/" className="mt-3 inline-block underline">
          All shootouts
        </Link>
      </div>
    )
  }
  return (
    <Reading.Provider value={reads !== false}>
      <div className="frame">
        <SkipLink />
        <TopStrip
          shootout={shootout.data}
          baseline={sheet.data?.baseline_id ?? null}
          onHelp={() => setHelp(true)}
        />
        {reads && (
          <p className="border-b border-line bg-base-200 px-4 py-1 text-13 text-mute">
            You can view this shootout. To edit, ask an owner for editor access.
          </p>
        )}
        {sheet.error && (
          <p {...SPOKEN} className="border-b border-accent px-4 py-1 text-13 text-accent">
            {problemOf(sheet.error)?.detail} Clocks run on, and what is pressed is kept on this
            device.
            <SignInLink error={sheet.error} />
          </p>
        )}
        <div className="frame-body flex flex-1 flex-col md:flex-row">
          <RunSheet slug={slug} stage={stage} lines={sheet.data?.stages} />
          <main id={MAIN} className="frame-main flex min-w-0 flex-1" key={slug}>
            <Outlet />
          </main>
        </div>
        {reads === false && <NextStrip slug={slug} next={sheet.data?.next} />}
        <Help open={help} onClose={() => setHelp(false)} />
      </div>
    </Reading.Provider>
  )
}

/** The stage that is open, read off the address. */
function useStage(): StageId {
  const last = useMatches().at(-1)?.fullPath ?? ""
  const id = last.split("/").at(-1)
  return STAGES.find((each) => each.id === id)?.id ?? "lineup"
}

/** Who goes on to another stage by keys or by ear is at its heading, unless a field has it. */
function useHeadingOf(stage: StageId): void {
  const before = useRef(stage)
  useEffect(() => {
    if (before.current === stage) return
    before.current = stage
    focusOn(() => (isInStage() ? document.activeElement : heading()))
  }, [stage])
}

const isInStage = () => document.activeElement?.closest("main") != null

/** Says with what everything is compared once that has changed. */
function useBaselineSaid(slug: string, baseline: string | null | undefined): void {
  const setups = useQuery({ ...lineupQuery(slug), enabled: baseline != null }).data?.setups
  const label = setups?.find((setup) => setup.id === baseline)?.label
  const before = useRef<string>(undefined)
  useEffect(() => {
    if (label === undefined) return
    if (before.current !== undefined && before.current !== label) {
      announce(`Compared with ${label} now.`)
    }
    before.current = label
  }, [label])
}

/** When another tab or person changed something, everything shown is asked for again. */
function useFollowRevision(slug: string, revision: number | undefined): void {
  const seen = useRef<string>("")
  useEffect(() => {
    if (revision === undefined) return
    const now = `${slug} ${revision}`
    if (seen.current.startsWith(`${slug} `) && seen.current !== now) {
      void refreshBeside(slug)
    }
    seen.current = now
  }, [slug, revision])
}

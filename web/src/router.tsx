import {
  createRootRoute,
  createRoute,
  createRouter,
  lazyRouteComponent,
  Outlet,
  type RouteComponent,
  redirect,
} from "@tanstack/react-router"
import { Frame } from "./frame/Frame"
import { fetchHelp } from "./frame/Help"
import { NothingHere } from "./frame/NothingHere"
import { Wellbeing } from "./frame/Wellbeing"
import { Announcer } from "./reach/Announcer"
import { Shelf } from "./stages/shelf/Shelf"

/** What an address may carry besides its path; anything else is dropped. */
type Search = {
  focus?: string
  machine?: string
  row?: string
  task?: string
  a?: string
  b?: string
  run?: string
  view?: string
  figure?: string
  viewer?: string
  card?: string
}

function readSearch(raw: Record<string, unknown>): Search {
  const kept: Search = {}
  for (const key of [
    "focus",
    "machine",
    "row",
    "task",
    "a",
    "b",
    "run",
    "view",
    "figure",
    "viewer",
    "card",
  ] as const) {
    const value = raw[key]
    if (typeof value === "string" && value.length <= 200) kept[key] = value
  }
  return kept
}

/**
 * The stages, each in a file of its own: the first screen needs one of them. The others are
 * fetched once the page is idle, so that one can be opened while the network is cut.
 */
const STAGES = {
  people: () => import("./stages/people/People"),
  alltime: () => import("./stages/alltime/AllTime"),
  room: () => import("./stages/room/StoreRoom"),
  lineup: () => import("./stages/lineup/LineUp"),
  tasks: () => import("./stages/tasks/Tasks"),
  bench: () => import("./stages/bench/Bench"),
  runs: () => import("./stages/runs/Runs"),
  margins: () => import("./stages/margins/Margins"),
  picks: () => import("./stages/picks/Picks"),
  publish: () => import("./stages/publish/Publish"),
}
const IDLE_MS = 1000

/** Fetches every stage ahead of its first use. */
export function fetchStages(): void {
  setTimeout(() => {
    for (const fetched of [...Object.values(STAGES), fetchHelp])
      void fetched().catch(() => undefined)
  }, IDLE_MS)
}

function Root() {
  return (
    <>
      <Wellbeing />
      <Outlet />
      <Announcer />
    </>
  )
}

const root = createRootRoute({ component: Root, notFoundComponent: NothingHere })
const shelf = createRoute({ getParentRoute: () => root, path: "/", component: Shelf })
const people = createRoute({
  getParentRoute: () => root,
  path: "/people",
  component: lazyRouteComponent(STAGES.people, "People"),
})
const alltime = createRoute({
  getParentRoute: () => root,
  path: "/all-time",
  component: lazyRouteComponent(STAGES.alltime, "AllTime"),
  validateSearch: readSearch,
})
const room = createRoute({
  getParentRoute: () => root,
  path: "/room",
  component: lazyRouteComponent(STAGES.room, "StoreRoom"),
  validateSearch: readSearch,
})
const frame = createRoute({
  getParentRoute: () => root,
  path: "/s/$slug",
  component: Frame,
  validateSearch: readSearch,
})
const start = createRoute({
  getParentRoute: () => frame,
  path: "/",
  beforeLoad: ({ params }) => {
    throw redirect({ to: "/s/$slug/margins", params })
  },
})
const stage = <Path extends string>(path: Path, component: RouteComponent) =>
  createRoute({ getParentRoute: () => frame, path, component })

const lineup = stage("lineup", lazyRouteComponent(STAGES.lineup, "LineUp"))
const tasks = stage("tasks", lazyRouteComponent(STAGES.tasks, "Tasks"))
const bench = stage("bench", lazyRouteComponent(STAGES.bench, "Bench"))
const runs = stage("runs", lazyRouteComponent(STAGES.runs, "Runs"))
const margins = stage("margins", lazyRouteComponent(STAGES.margins, "Margins"))
const picks = stage("picks", lazyRouteComponent(STAGES.picks, "Picks"))
const publish = stage("publish", lazyRouteComponent(STAGES.publish, "Publish"))

export const router = createRouter({
  routeTree: root.addChildren([
    shelf,
    people,
    alltime,
    room,
    frame.addChildren([start, lineup, tasks, bench, runs, margins, picks, publish]),
  ]),
})

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router
  }
}

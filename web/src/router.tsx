import {
  createRootRoute,
  createRoute,
  createRouter,
  Outlet,
  redirect,
} from "@tanstack/react-router"
import { Frame } from "./frame/Frame"
import { NothingHere } from "./frame/NothingHere"
import { Bench } from "./stages/bench/Bench"
import { LineUp } from "./stages/lineup/LineUp"
import { Margins } from "./stages/margins/Margins"
import { People } from "./stages/people/People"
import { Picks } from "./stages/picks/Picks"
import { Publish } from "./stages/publish/Publish"
import { Runs } from "./stages/runs/Runs"
import { Shelf } from "./stages/shelf/Shelf"
import { Tasks } from "./stages/tasks/Tasks"

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

const root = createRootRoute({ component: Outlet, notFoundComponent: NothingHere })
const shelf = createRoute({ getParentRoute: () => root, path: "/", component: Shelf })
const people = createRoute({ getParentRoute: () => root, path: "/people", component: People })
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
const stage = <Path extends string>(path: Path, component: () => React.ReactNode) =>
  createRoute({ getParentRoute: () => frame, path, component })

const lineup = stage("lineup", LineUp)
const tasks = stage("tasks", Tasks)
const bench = stage("bench", Bench)
const runs = stage("runs", Runs)
const margins = stage("margins", Margins)
const picks = stage("picks", Picks)
const publish = stage("publish", Publish)

export const router = createRouter({
  routeTree: root.addChildren([
    shelf,
    people,
    frame.addChildren([start, lineup, tasks, bench, runs, margins, picks, publish]),
  ]),
})

declare module "@tanstack/react-router" {
  interface Register {
    router: typeof router
  }
}

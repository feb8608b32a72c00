import { useQuery } from "@tanstack/react-query"
import { useParams, useSearch } from "@tanstack/react-router"
import { useEffect, useRef, useState } from "react"
import type { Schemas } from "../../api/client"
import { benchQuery, lineupQuery, shootoutQuery, tasksQuery } from "../../api/queries"
import { type Bench as LaneBench, useBench } from "../../lanes/bench"
import * as desks from "../../lanes/desk"
import * as lanes from "../../lanes/lane"
import { useReading } from "../../parts/Reading"
import { prefixPending, singleKeysOn, useKeys } from "../../parts/useKeys"
import { focusOn } from "../../reach/focus"
import type { Ending } from "./ReasonForm"

/** What is asked for a lane: a reason, or how far it is. */
export type Asked = { number: number } & (Ending | { kind: "mark"; at: number })

/** The bench as a screen: its lanes, what is asked for one, and what keys do. */
export function useBenchStage() {
  const { slug } = useParams({ from: "/s/$slug/bench" })
  const { focus } = useSearch({ from: "/s/$slug/bench" })
  const lineup = useQuery(lineupQuery(slug)).data
  const tasks = useQuery(tasksQuery(slug)).data
  const facts = useQuery(benchQuery(slug)).data
  const shootout = useQuery(shootoutQuery(slug)).data
  const { bench, state } = useBench(slug)
  const { desk } = state
  const [asked, setAsked] = useState<Asked | null>(null)
  useFocus(focus, bench)
  useEffect(() => (asked ? bench.hold(asked.number, "form") : undefined), [asked, bench])

  /** Asks for a reason or a mark, where the lane is in a state that takes one. */
  const ask = (kind: Asked["kind"], at: number, number = desk.selected) => {
    const phase = desks.laneOf(desk, number)?.phase
    if (phase === "running" || (kind === "void" && phase === "stopped")) {
      setAsked({ kind, number, at })
    }
  }
  const falseStart = (number: number, at: number) => bench.end(number, "void", "false start", at)
  useBenchKeys(bench, desk, ask, falseStart)
  const timed = tasks
    ?.filter(({ task }) => task.measure === "time" && !task.superseded)
    .map(({ task }) => task)
  return {
    slug,
    lineup,
    tasks,
    timed,
    facts,
    shootout,
    bench,
    state,
    asked,
    setAsked: (next: Asked | null) => {
      // What was asked for is done with: the timer has the focus, and its keys are keys again.
      if (next === null && asked) focusOn(() => timerOf(asked.number))
      setAsked(next)
    },
    ask,
    falseStart,
  }
}

export type BenchStage = ReturnType<typeof useBenchStage>

const timerOf = (number: number) => document.querySelector(`[data-timer="${number}"]`)

/** A digit starts and stops its lane, letters act on the one that is selected. */
function useBenchKeys(
  bench: LaneBench,
  desk: desks.Desk,
  ask: (kind: Asked["kind"], at: number) => void,
  falseStart: (number: number, at: number) => void,
): void {
  const reading = useReading()
  useKeys((event) => {
    if (reading || !singleKeysOn() || desk.lanes.length === 0) return false
    const digit = /^(?:Digit|Numpad)([1-8])$/.exec(event.code)?.[1]
    const at = lanes.momentOf(event)
    if (event.shiftKey) return false
    if (digit !== undefined && prefixPending(event.timeStamp)) return false
    if (digit !== undefined) bench.toggle(Number(digit), at)
    else if (event.code === "Space") bench.startNext(at)
    else if (event.code === "KeyA") bench.startAll(at)
    else if (event.code === "KeyC") bench.countDown(at)
    else if (event.code === "KeyU") bench.undo()
    else if (event.code === "KeyR") bench.redo()
    else if (event.code === "ArrowDown" && desk.lanes.length > 1) bench.step(1)
    else if (event.code === "ArrowUp" && desk.lanes.length > 1) bench.step(-1)
    else if (event.code === "KeyP") ask("mark", at)
    else if (event.code === "KeyX") falseStart(desk.selected, at)
    else if (event.code === "KeyV") ask("void", at)
    else if (event.code === "KeyF") ask("failed", at)
    else return false
    return true
  })
}

/** Arms a lane with the setup and task that the address names, once, unless one has them. */
function useFocus(focus: string | undefined, bench: LaneBench): void {
  const taken = useRef<string | null>(null)
  useEffect(() => {
    const [setup, task] = (focus ?? "").split(":")
    if (!focus || !setup || !task || taken.current === focus) return
    taken.current = focus
    const { desk } = bench.read()
    const own = desk.lanes.find((lane) => lane.setupId === setup)
    if (own?.taskId === task || own?.phase === "running") return
    if (own) bench.remove(own.number)
    // A lone lane that stands idle gives way: "time it" means this one.
    else if (desk.lanes.length === 1 && desk.lanes[0]?.phase !== "running") {
      bench.remove(desk.lanes[0]?.number ?? 0)
    }
    bench.add(setup, [task])
  }, [focus, bench])
}

/** The setups of machines that are not retired. */
export function onDesk(lineup: Schemas["LineUp"]): Schemas["Setup"][] {
  return lineup.columns.flatMap(({ machine }) =>
    machine.retired_at === null ? machine.setups : [],
  )
}

export function taskOf(sheets: Schemas["TaskSheet"][] | undefined, id: string | undefined) {
  return sheets?.find(({ task }) => task.id === id)?.task
}

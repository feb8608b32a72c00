import { fireEvent, render, screen } from "@testing-library/react"
import { beforeEach, describe, expect, it, vi } from "vitest"
import { Bench } from "../src/lanes/bench"
import {
  cleared,
  type Desk,
  EMPTY,
  hasRoom,
  laneOf,
  lastMark,
  MOST_LANES,
  mark,
  redoable,
  start,
  stepped,
  stop,
  takeBack,
  undo,
  whyNoMark,
  withLane,
} from "../src/lanes/desk"
import { canRedo, now, REDO_MS } from "../src/lanes/lane"
import { newest, progress, standing } from "../src/lanes/marks"
import { Press } from "../src/stages/bench/Press"
import { ReasonForm } from "../src/stages/bench/ReasonForm"
import { serve } from "./helpers"

function deskOf(many: number): Desk {
  return Array.from({ length: many }, (_, n) => n + 1).reduce(
    (desk, n) => withLane(desk, "s", ["t"], `key ${n}`),
    EMPTY,
  )
}

/** A click as a finger makes it: down, held, up. */
function tap(button: HTMLElement, heldMs: number): number {
  const down = 1000
  const at = (event: Event, timeStamp: number) => {
    Object.defineProperty(event, "timeStamp", { value: timeStamp })
    fireEvent(button, event)
  }
  at(new MouseEvent("pointerdown", { bubbles: true }), down)
  at(new MouseEvent("click", { bubbles: true, detail: 1 }), down + heldMs)
  return performance.timeOrigin + down
}

describe("a press of a finger", () => {
  it("counts from when it touched, however long it is held", () => {
    const pressed = vi.fn()
    render(<Press label="Stop" keyName={null} onPress={pressed} />)
    const down = tap(screen.getByRole("button"), 256)
    expect(pressed).toHaveBeenCalledExactlyOnceWith(down)
  })

  it("that rested on the button counts from when it lifted", () => {
    const pressed = vi.fn()
    render(<Press label="Stop" keyName={null} onPress={pressed} />)
    const down = tap(screen.getByRole("button"), 9000)
    expect(pressed).toHaveBeenCalledExactlyOnceWith(down + 9000)
  })

  it("that became a scroll is none, and the next key counts for itself", () => {
    const pressed = vi.fn()
    render(<Press label="Stop" keyName={null} onPress={pressed} />)
    const button = screen.getByRole("button")
    fireEvent.pointerDown(button)
    fireEvent.pointerCancel(button)
    expect(pressed).not.toHaveBeenCalled()
    const before = now()
    fireEvent.click(button, { detail: 0 })
    expect(pressed.mock.calls[0]?.[0]).toBeGreaterThanOrEqual(before - 1000)
  })
})

describe("a press that was taken back", () => {
  const running = start(deskOf(2), 2, 5000)
  const stopped = stop(running, 2, 36_200)

  it("is put back where it was", () => {
    const back = undo(stopped, 37_000)
    expect(laneOf(back, 2)?.phase).toBe("running")
    const lane = redoable(back, 38_000)
    expect([lane?.number, lane?.redo]).toEqual([2, { press: "stop", at: 36_200 }])
    const again = stop(back, 2, lane?.redo?.at ?? 0)
    expect(laneOf(again, 2)?.elapsedS).toBeCloseTo(31.2, 9)
    expect(redoable(again, 39_000)).toBeUndefined()
  })

  it("is a start where the timer ran, and is gone after a minute or the next press", () => {
    const ready = undo(running, 6000)
    const lane = redoable(ready, 7000)
    expect(lane?.redo).toEqual({ press: "start", at: 5000 })
    expect(lane && canRedo(lane, 5000 + REDO_MS + 1)).toBe(false)
    expect(redoable(start(ready, 2, 9000), 9500)).toBeUndefined()
  })

  it("is put back by the bench, and the run is told as good again", async () => {
    localStorage.clear()
    serve({})
    const bench = new Bench("redone")
    bench.add("s", ["t"])
    const at = now() - 8000
    bench.start(1, at)
    bench.stop(1, at + 5000)
    bench.undo()
    expect(bench.read().desk.lanes[0]?.phase).toBe("running")
    bench.redo()
    const [lane] = bench.read().desk.lanes
    expect(lane?.phase).toBe("stopped")
    expect(lane?.elapsedS).toBeCloseTo(5, 6)
  })
})

describe("a desk of many timers", () => {
  it("is walked with the arrows, round and round", () => {
    const desk = deskOf(3)
    expect(desk.selected).toBe(1)
    expect(stepped(desk, 1).selected).toBe(2)
    expect(stepped(desk, -1).selected).toBe(3)
    expect(stepped({ ...desk, selected: 3 }, 1).selected).toBe(1)
    expect(stepped({ ...desk, selected: 0 }, 1).selected).toBe(1)
    expect(stepped(EMPTY, 1)).toBe(EMPTY)
  })

  it("is cleared of those that have ended, and of no other", () => {
    const desk = stop(start(start(deskOf(3), 1, 0), 2, 0), 1, 9000)
    const left = cleared(desk)
    expect(left.lanes.map((lane) => [lane.number, lane.phase])).toEqual([
      [2, "running"],
      [3, "armed"],
    ])
    expect(cleared(left)).toBe(left)
  })

  it("takes another where one has ended, and none where all are needed", () => {
    const full = deskOf(MOST_LANES)
    expect(hasRoom(full)).toBe(false)
    expect(withLane(full, "s", ["t"], "one more")).toBe(full)
    const ended = stop(start(full, 3, 0), 3, 9000)
    expect(hasRoom(ended)).toBe(true)
    const more = withLane(ended, "other", ["t"], "one more")
    expect(more.lanes.length).toBe(MOST_LANES)
    expect(laneOf(more, 3)).toMatchObject({ setupId: "other", phase: "armed" })
  })
})

describe("the form that asks why a run does not count", () => {
  const onDigit = vi.fn(() => true)
  const form = (
    <ReasonForm
      ending={{ kind: "failed", at: 0 }}
      after="0:31"
      known={null}
      onDigit={onDigit}
      onDone={() => {}}
    />
  )
  beforeEach(() => {
    onDigit.mockClear()
    localStorage.clear()
  })
  const digit = (field: HTMLElement, key = "2") =>
    fireEvent.keyDown(field, { key, code: `Digit${key}` })

  it("lets a digit stop another timer before anything is typed", () => {
    render(form)
    digit(screen.getByLabelText("Why did it fail?"))
    expect(onDigit).toHaveBeenCalledExactlyOnceWith(2, expect.any(Number))
  })

  it("takes digits as text once a reason is begun, and in a field for numbers", () => {
    render(form)
    digit(screen.getByLabelText("How far did it get, in %?"))
    const why = screen.getByLabelText("Why did it fail?")
    fireEvent.change(why, { target: { value: "crash at " } })
    digit(why)
    expect(onDigit).not.toHaveBeenCalled()
  })

  it("leaves digits alone where single keys are switched off", () => {
    localStorage.setItem("tm-single-keys", "off")
    render(form)
    digit(screen.getByLabelText("Why did it fail?"))
    expect(onDigit).not.toHaveBeenCalled()
  })
})

describe("a mark that was mistyped", () => {
  const at = now()
  const marked = [0.4, 0.9].reduce(
    (desk, fraction, place) => mark(desk, 1, { fraction }, at + 10_000 * (place + 1)),
    start(deskOf(1), 1, at),
  )

  it("is taken back while its timer runs, and counts nowhere", () => {
    const lane = laneOf(marked, 1)
    expect(lane && lastMark(lane)?.fraction).toBe(0.9)
    const back = laneOf(takeBack(marked, 1), 1)
    expect(back?.marks).toHaveLength(2)
    expect(standing(back?.marks ?? []).map((each) => each.fraction)).toEqual([0.4])
    expect(newest(back?.marks ?? [], "fraction")).toBe(0.4)
    expect(progress(back?.marks ?? [])).toHaveLength(1)
    expect(whyNoMark(back, { fraction: 0.5 })).toBeNull()
  })

  it("makes room for the right one at the same moment", () => {
    const right = mark(takeBack(marked, 1), 1, { fraction: 0.5 }, at + 20_000)
    const lane = laneOf(right, 1)
    expect(standing(lane?.marks ?? []).map((each) => each.fraction)).toEqual([0.4, 0.5])
  })

  it("is not taken back once its timer has ended, or where there is none", () => {
    const ended = stop(marked, 1, at + 30_000)
    expect(takeBack(ended, 1)).toBe(ended)
    const none = start(deskOf(1), 1, at)
    expect(takeBack(none, 1)).toBe(none)
  })
})

describe("a timer with more to time", () => {
  beforeEach(() => {
    vi.useFakeTimers()
    // Nobody answers: what a bench sends ends with its test.
    vi.stubGlobal("fetch", () => new Promise(() => {}))
    return () => vi.useRealTimers()
  })
  const stopped = (slug: string, tasks: string[]) => {
    const bench = new Bench(slug)
    bench.add("s", tasks)
    bench.start(1)
    vi.advanceTimersByTime(60_000)
    bench.stop(1)
    return bench
  }
  const first = (bench: Bench) => bench.read().desk.lanes[0]

  it("readies the next by itself once its stop can be undone no more", () => {
    const bench = stopped("goes on", ["t", "t2"])
    vi.advanceTimersByTime(9000)
    expect(first(bench)?.phase).toBe("stopped")
    vi.advanceTimersByTime(5000)
    expect(first(bench)).toMatchObject({ phase: "armed", taskId: "t2", queue: [] })
  })

  it("stays where nothing comes next, and while something is asked about it", () => {
    const last = stopped("stays", ["t"])
    const asked = stopped("asked", ["t", "t2"])
    const letGo = asked.hold(1, "form")
    vi.advanceTimersByTime(60_000)
    expect(first(last)?.phase).toBe("stopped")
    expect(first(asked)).toMatchObject({ phase: "stopped", taskId: "t" })
    letGo()
    vi.advanceTimersByTime(5000)
    expect(first(asked)).toMatchObject({ phase: "armed", taskId: "t2" })
  })

  it("waits again where the stop was undone", () => {
    const bench = stopped("undone", ["t", "t2"])
    bench.undo()
    vi.advanceTimersByTime(60_000)
    expect(first(bench)).toMatchObject({ phase: "running", taskId: "t" })
  })
})

describe("a countdown", () => {
  beforeEach(() => {
    vi.useFakeTimers()
    // Nobody answers: what a bench sends ends with its test.
    vi.stubGlobal("fetch", () => new Promise(() => {}))
    return () => vi.useRealTimers()
  })

  it("starts every timer that waits at its end, not when the browser comes to it", () => {
    const bench = new Bench("counted")
    bench.add("s", ["t"])
    bench.add("s2", ["t"])
    const at = now()
    bench.countDown(at)
    expect(bench.read().startsAt).toBe(at + 3000)
    vi.advanceTimersByTime(2000)
    expect(bench.read().desk.lanes.every((lane) => lane.phase === "armed")).toBe(true)
    vi.advanceTimersByTime(1500)
    expect(bench.read().desk.lanes.map((lane) => lane.startedAt)).toEqual([at + 3000, at + 3000])
    expect(bench.read().startsAt).toBeNull()
  })

  it("is called off by the same press, and needs a timer that waits", () => {
    const bench = new Bench("called off")
    bench.countDown()
    expect(bench.read().startsAt).toBeNull()
    bench.add("s", ["t"])
    bench.countDown()
    bench.countDown()
    vi.advanceTimersByTime(9000)
    expect(bench.read().desk.lanes[0]?.phase).toBe("armed")
  })
})

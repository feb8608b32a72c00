import { describe, expect, it } from "vitest"
import type { NumberedLane } from "../src/lanes/desk"
import {
  armed,
  canUndo,
  completed,
  corrected,
  elapsed,
  isLane,
  type Lane,
  renewed,
  started,
  stopped,
  UNDO_MS,
  undone,
} from "../src/lanes/lane"
import { markWords, newest, progress, readMark } from "../src/lanes/marks"
import { type Here, heard, idOf, isOlder, joined, type RemoteLane, told } from "../src/lanes/shared"

const T0 = 1_700_000_000_000
const lane = armed("a", "render", "key 1")
const running = started(lane, T0)

describe("a stopwatch", () => {
  it("says the time between the presses, however late anybody asks", () => {
    expect(elapsed(lane, T0 + 5000)).toBe(0)
    expect(elapsed(running, T0 + 83_450)).toBeCloseTo(83.45, 9)
    const done = stopped(running, T0 + 83_450)
    expect(elapsed(done, T0 + 999_000)).toBeCloseTo(83.45, 9)
  })
  it("never runs backwards, even where a clock does", () => {
    expect(elapsed(running, T0 - 10_000)).toBe(0)
  })
  it("of a simulated rig runs faster than life", () => {
    expect(elapsed({ ...running, factor: 60 }, T0 + 2000)).toBe(120)
  })
  it("runs on underneath where a stop is taken back", () => {
    const back = undone(stopped(running, T0 + 4000))
    expect(back.phase).toBe("running")
    expect(elapsed(back, T0 + 9000)).toBe(9)
    expect(back.undone).toBe(1)
  })
  it("stands ready again where a start is taken back", () => {
    const back = undone(running)
    expect([back.phase, back.startedAt, back.key]).toEqual(["armed", 0, "key 1"])
  })
  it("takes a press back for a while, and only one of a hand", () => {
    expect(canUndo(running, T0 + UNDO_MS)).toBe(true)
    expect(canUndo(running, T0 + UNDO_MS + 1)).toBe(false)
    expect(canUndo({ ...running, timedBy: "rig" }, T0)).toBe(false)
    expect(canUndo(undone(running), T0)).toBe(false)
  })
  it("is set right by what a press was late, and never below nothing", () => {
    const done = stopped(running, T0 + 60_000)
    expect(corrected(done, "start", 1.5).elapsedS).toBeCloseTo(61.5, 9)
    expect(corrected(done, "stop", 1.5).elapsedS).toBeCloseTo(58.5, 9)
    expect(corrected(done, "stop", 100).elapsedS).toBe(0)
  })
  it("started on another device is less certain by both ways there", () => {
    expect(stopped(running, T0 + 1000, 0.04).placedU).toBe(0)
    const elsewhere = { ...running, startedBy: "phone", startU: 0.03 }
    expect(stopped(elsewhere, T0 + 1000, 0.04).placedU).toBeCloseTo(0.07, 12)
  })
  it("keeps its place and what was seen before the start for the next run", () => {
    const seen = { ...stopped(running, T0 + 1000), conditions: { fresh_boot: true } }
    const next = renewed(seen, "export", "key 2")
    expect(next).toMatchObject({
      id: "key 1",
      key: "key 2",
      taskId: "export",
      phase: "armed",
      elapsedS: null,
      conditions: { fresh_boot: true },
    })
  })
  it("is known again after a reload, with what an older page did not keep", () => {
    const { conditions: _conditions, factor: _factor, ...older } = running
    expect(isLane(older)).toBe(true)
    expect(completed(older as Lane)).toMatchObject({ factor: 1, conditions: {}, startedAt: T0 })
    for (const broken of [null, 3, {}, { ...running, phase: "lost" }, { ...running, key: 1 }]) {
      expect(isLane(broken)).toBe(false)
    }
  })
})

describe("a mark typed in a hurry", () => {
  it.each([
    ["40", { fraction: 0.4 }],
    ["40 %", { fraction: 0.4 }],
    ["12,5", { fraction: 0.125 }],
    ["71 °C", { temperature_c: 71 }],
    ["71c", { temperature_c: 71 }],
    ["180 W", { power_w: 180 }],
    ["24 fps", { frames_per_s: 24 }],
    ["12 GB", { memory_gb: 12 }],
    ["RAM 12", { memory_gb: 12 }],
    ["swap 2", { swap_gb: 2 }],
    ["vram 7.5", { gpu_memory_gb: 7.5 }],
    ["gpu 90", { gpu_load: 0.9 }],
    ["processor 35 %", { cpu_load: 0.35 }],
    ["38 dB", { noise_db: 38 }],
    ["left 4:30", { left_s: 270 }],
    ["remaining 1:02:03", { left_s: 3723 }],
    ["left 90 s", { left_s: 90 }],
    ["left 4 min", { left_s: 240 }],
    ["left 90", { left_s: 90 }],
    ["left 1,5 h", { left_s: 5400 }],
    ["  fan starts ", { event: "fan starts" }],
  ])("%s", (typed, said) => {
    expect(readMark(typed)).toEqual(said)
  })
  it.each(["", "   ", "140", "gpu 101", "50 apples", "-3"])("%j is a slip, not a mark", (typed) => {
    expect(readMark(typed)).toBeNull()
  })
  it("longer than the book takes is cut rather than lost", () => {
    expect(readMark("x".repeat(300))?.event).toHaveLength(200)
  })
  it("is written so that it reads back the same", () => {
    for (const typed of ["40 %", "24 frames/s", "71 °C", "180 W", "38 dB", "graphics 90 %"]) {
      expect(markWords(readMark(typed) ?? {})).toBe(typed)
    }
    expect(markWords({ left_s: 65, event: "fan starts" })).toBe("app says 1:05 left, fan starts")
  })
  it("is the newest of its kind, and only those of progress tell the pace", () => {
    const marks = [
      { elapsed_s: 10, fraction: 0.1 },
      { elapsed_s: 20, temperature_c: 71 },
      { elapsed_s: 30, fraction: 0.4, temperature_c: 80 },
      { elapsed_s: 40, event: "fan starts" },
    ]
    expect(newest(marks, "temperature_c")).toBe(80)
    expect(newest(marks, "power_w")).toBeNull()
    expect(progress(marks)).toEqual([
      { elapsed_s: 10, fraction: 0.1 },
      { elapsed_s: 30, fraction: 0.4 },
    ])
  })
})

const here: Here = { device: "laptop", offset: 5000, half: 20 }
const numbered = (base: Lane, more: Partial<Lane> = {}): NumberedLane =>
  ({ ...base, number: 1, queue: [], marks: [], ...more }) as NumberedLane
const remote = (own: NumberedLane, from: Here, more: object = {}): RemoteLane =>
  ({ lane: told(own, from), at_ms: T0, client: "phone", seq: 1, ...more }) as unknown as RemoteLane

describe("a lane that two devices share", () => {
  it("comes back from the server as it was told", () => {
    const own = numbered(running, { marks: [{ elapsed_s: 3, fraction: 0.5 }] } as Partial<Lane>)
    const back = heard(remote(own, here), here)
    expect(back).toMatchObject({ ...own, stamp: { own: false, client: "phone", seq: 1 } })
  })
  it("tells moments on the server's clock, and hears them on its own", () => {
    const phone: Here = { device: "phone", offset: -2000, half: 10 }
    const back = heard(remote(numbered(running), phone), here)
    expect(told(numbered(running), phone).started_ms).toBe(T0 - 2000)
    expect(back?.startedAt).toBe(T0 - 2000 - 5000)
    expect(back?.startedBy).toBe("phone")
  })
  it("tells no moment where nothing was pressed", () => {
    expect(told(numbered(lane), here)).toMatchObject({ started_ms: 0, pressed_ms: 0 })
  })
  it("is gone where the other took it away", () => {
    const gone = { lane: told(numbered(running), here, true), at_ms: T0, client: "p", seq: 2 }
    expect(heard(gone as unknown as RemoteLane, here)).toBeNull()
    expect(idOf(gone as unknown as RemoteLane)).toBe("key 1")
  })
})

describe("of two tellings of a lane", () => {
  const stamp = (client: string, at: number, seq: number, own = false) => ({ own, at, client, seq })
  it("the later stands: by number from one device, by moment from two", () => {
    expect(isOlder(null, stamp("a", 0, 1), here)).toBe(true)
    expect(isOlder(stamp("a", 9, 1), stamp("a", 0, 2), here)).toBe(true)
    expect(isOlder(stamp("a", 1, 9), stamp("b", 2, 1), here)).toBe(true)
    expect(isOlder(stamp("a", 1, 1), stamp("b", 1, 1), here)).toBe(true)
    expect(isOlder(stamp("b", 1, 1), stamp("a", 1, 1), here)).toBe(false)
  })
  it("moments of this device count on the server's clock", () => {
    expect(isOlder(stamp("a", T0, 1, true), stamp("b", T0 + 4000, 1), here)).toBe(false)
    expect(isOlder(stamp("a", T0, 1, true), stamp("b", T0 + 6000, 1), here)).toBe(true)
  })
  it("the earlier of two stops stands, whoever told it", () => {
    const early = numbered(stopped(running, T0 + 60_000), { stamp: stamp("a", 1, 1) })
    const late = numbered(stopped(running, T0 + 60_900), { stamp: stamp("b", 2, 1) })
    expect(joined(early, late, here).elapsedS).toBeCloseTo(60, 9)
    expect(joined(late, early, here).elapsedS).toBeCloseTo(60, 9)
  })
  it("a stop that was taken back does not come again", () => {
    const first = stopped(running, T0 + 10_000)
    const again = stopped(undone(first), T0 + 50_000)
    const own = numbered(again, { stamp: stamp("a", 2, 2) })
    const other = numbered(first, { stamp: stamp("b", 1, 1) })
    expect(joined(own, other, here).elapsedS).toBeCloseTo(50, 9)
  })
  it("marks of both stay, in their order, one a moment", () => {
    const ours = [{ elapsed_s: 20, fraction: 0.2 }]
    const theirs = [
      { elapsed_s: 10, fraction: 0.1 },
      { elapsed_s: 20, temperature_c: 70 },
    ]
    const own = numbered(running, { stamp: stamp("a", 2, 2), marks: ours } as Partial<Lane>)
    const other = numbered(running, { stamp: stamp("b", 1, 1), marks: theirs } as Partial<Lane>)
    expect(joined(own, other, here).marks).toEqual([
      { elapsed_s: 10, fraction: 0.1 },
      { elapsed_s: 20, fraction: 0.2, temperature_c: 70 },
    ])
  })
  it("marks of another run are no marks of this one", () => {
    const old = numbered(running, {
      stamp: stamp("a", 1, 1),
      marks: [{ elapsed_s: 1, fraction: 0.9 }],
    } as Partial<Lane>)
    const next = numbered(renewed(running, "render", "key 2"), { stamp: stamp("b", 2, 1) })
    expect(joined(old, next, here)).toMatchObject({ key: "key 2", marks: [] })
  })
  it("the own press is known more exactly than the same over the server's clock", () => {
    const own = numbered(running, { stamp: stamp("a", 1, 1) })
    const back = numbered(running, { startedAt: T0 + 37, stamp: stamp("b", 2, 1) })
    expect(joined(own, back, here).startedAt).toBe(T0)
  })
})

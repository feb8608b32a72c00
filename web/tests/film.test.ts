import { describe, expect, it } from "vitest"
import { type Cut, frameOf, lengthOf, marksOf, runOf, whyNot } from "../src/lanes/film/cut"
import { FilmError, filmOf, frameAt, frameS, rateOf } from "../src/lanes/film/frames"

const even = filmOf(
  "even.mp4",
  Array.from({ length: 101 }, (_, at) => at / 25),
  0.04,
)
const uneven = filmOf("uneven.mp4", [0.3, 0, 0.1, 1.3, -0.2], 0)
const cut: Cut = { id: "a-key-of-a-run", setupId: "s", taskId: "t", start: 10, end: 60, marks: [] }

describe("a film", () => {
  it("knows its frames in the order in which they are shown, from the beginning on", () => {
    expect([...uneven.times]).toEqual([0, 0.1, 0.3, 1.3])
    expect(frameS(uneven, 2)).toBeCloseTo(1, 9)
    expect(frameS(uneven, 3)).toBeCloseTo(1.3 / 3, 9)
    expect(rateOf(uneven)).toBeNull()
    expect(rateOf(even)).toBeCloseTo(25, 9)
  })
  it.each([
    [-1, 0],
    [0, 0],
    [0.0999, 0],
    [0.1, 1],
    [1.2999, 2],
    [99, 3],
  ])("shows at %d s the frame %d", (seconds, frame) => {
    expect(frameAt(uneven, seconds)).toBe(frame)
  })
  it("of one frame is none", () => {
    expect(() => filmOf("still.mp4", [0], 1)).toThrow(FilmError)
  })
})

describe("a run in a film", () => {
  it("lasts from the frame that it begins at to the one that it is done at", () => {
    expect(lengthOf(even, cut)).toBeCloseTo(2, 9)
    expect(frameOf(uneven, { ...cut, start: 0, end: 2 })).toBeCloseTo(1, 9)
    expect(lengthOf(even, { ...cut, end: 10 })).toBeNull()
  })
  it("says what is missing", () => {
    expect(whyNot(even, { ...cut, start: null })).toContain("press S")
    expect(whyNot(even, { ...cut, end: null })).toContain("press E")
    expect(whyNot(even, { ...cut, end: 5 })).toContain("before it begins")
    const marks = [
      { frame: 20, fraction: 0.6 },
      { frame: 30, fraction: 0.5 },
    ]
    expect(whyNot(even, { ...cut, marks })).toContain("backwards")
    expect(whyNot(even, cut)).toBeNull()
  })
  it("tells its marks after its beginning, and none from outside", () => {
    const marks = [40, 5, 70, 35].map((frame) => ({ frame, fraction: frame / 100 }))
    expect(marksOf(even, { ...cut, marks })).toEqual([
      { elapsed_s: 1, fraction: 0.35 },
      { elapsed_s: 1.2, fraction: 0.4 },
    ])
    expect(marksOf(even, { ...cut, start: null, marks })).toEqual([])
  })
  it("goes into the book with the film's own frame as what it is unsure by", () => {
    expect(runOf(even, cut)).toMatchObject({
      typed: "0:02.000",
      method: "recording",
      note: "even.mp4, frames 11 to 61",
      client_key: "a-key-of-a-run",
    })
    expect(runOf(even, cut).poll_s).toBeCloseTo(0.04, 9)
  })
})

import { describe, expect, it } from "vitest"
import { Bench } from "../src/lanes/bench"
import { byRun, EMPTY, endWatched, laneOf, mark, start, withLane } from "../src/lanes/desk"
import { Follower, POLL_MS, type Said } from "../src/lanes/watch/follow"
import { lookAt, sameLook } from "../src/lanes/watch/looks"
import { readEndings, type WatchRecord } from "../src/lanes/watch/record"
import { isCutOff } from "../src/lanes/watch/whole"
import { serve } from "./helpers"

const T0 = 1_700_000_000_000

/** A folder, its clock, and what a follower keeps and tells. */
class Desk {
  now = T0
  /** By how much the wall's clock was set. */
  set = 0
  files = new Map<string, { content: Blob; size: number; at: number }>()
  refuses: string | null = null
  full = false
  kept: WatchRecord | null = null
  said: Said[] = []

  write(name: string, bytes: Uint8Array<ArrayBuffer> | number): void {
    const content = new Blob(typeof bytes === "number" ? [] : [bytes])
    const size = typeof bytes === "number" ? bytes : bytes.length
    this.files.set(name, { content, size, at: this.wall })
  }

  get wall(): number {
    return this.now + this.set
  }

  readonly folder = {
    name: "exports",
    kind: "directory",
    values: () => this.values(),
    getFileHandle: async (name: string) => ({ getFile: async () => this.fileOf(name) }),
  } as unknown as FileSystemDirectoryHandle

  private async *values() {
    if (this.refuses) throw new DOMException("no", this.refuses)
    for (const name of [...this.files.keys()]) {
      yield { kind: "file", name, getFile: async () => this.fileOf(name) }
    }
  }

  private fileOf(name: string): File {
    const file = this.files.get(name)
    if (!file) throw new DOMException("gone", "NotFoundError")
    const { content, size, at } = file
    const slice = (from: number, to: number) => content.slice(from, to)
    return { name, size, lastModified: at, slice } as unknown as File
  }

  follower(record: Partial<WatchRecord> = {}): Follower {
    return new Follower(
      {
        id: "lane",
        slug: "s",
        key: "run",
        folder: this.folder,
        endings: [".mp4"],
        again: false,
        state: null,
        ended: null,
        clockSetS: 0,
        ...record,
      },
      {
        wallMs: () => this.wall,
        steadyMs: () => this.now,
        wait: async () => {},
        keep: async (kept) => {
          if (this.full) throw new DOMException("full", "QuotaExceededError")
          this.kept = structuredClone({ ...kept, folder: null }) as unknown as WatchRecord
        },
        tell: (said) => this.said.push(said),
      },
    )
  }

  /** Looks for so many seconds. */
  async look(follower: Follower, seconds: number, each: () => void = () => {}): Promise<void> {
    for (const end = this.now + 1000 * seconds; this.now < end; this.now += POLL_MS) {
      each()
      await follower.step()
    }
  }

  /** An export of so many seconds into one file that grows. */
  async export(follower: Follower, seconds: number, name = "film.mp4"): Promise<void> {
    let size = 0
    await this.look(follower, seconds, () => {
      size += 100_000
      this.write(name, size)
    })
  }

  get ended() {
    const last = this.said.findLast((each) => each.said === "ended")
    return this.kept?.ended ?? (last?.said === "ended" ? last.ended : null)
  }
}

async function armed(desk: Desk, record: Partial<WatchRecord> = {}): Promise<Follower> {
  const follower = desk.follower(record)
  await desk.look(follower, 1)
  return follower
}

describe("a folder that is watched", () => {
  it("times an export from its first byte to its last, and dates the end back", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    const began = desk.now
    await desk.export(follower, 20)
    const done = desk.now - POLL_MS
    expect(desk.said.filter((each) => each.said === "started")).toHaveLength(1)
    expect(desk.said.filter((each) => each.said === "mark").length).toBeGreaterThan(2)
    await desk.look(follower, 59)
    expect(desk.ended).toBeNull()
    await desk.look(follower, 3)
    expect(desk.ended).toMatchObject({ kind: "stopped", doubt: null, pressed: false })
    expect(Math.abs((desk.ended?.startedMs ?? 0) - began)).toBeLessThanOrEqual(POLL_MS)
    expect(Math.abs((desk.ended?.endedMs ?? 0) - done)).toBeLessThanOrEqual(POLL_MS)
  })

  it("need not wait once a person says that it is done", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    await desk.export(follower, 8)
    follower.order({ order: "whole" })
    await desk.look(follower, 4)
    expect(desk.ended?.kind).toBe("stopped")
  })

  it("goes on after a reload with what was kept, as if nothing had been", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    await desk.export(follower, 6)
    const { state, key } = desk.kept as WatchRecord
    const again = desk.follower({ state, key })
    await desk.export(again, 6, "film.mp4")
    await desk.look(again, 62)
    expect(desk.ended).toMatchObject({ kind: "stopped", doubt: null })
    const length = (desk.ended?.endedMs ?? 0) - (desk.ended?.startedMs ?? 0)
    expect(Math.abs(length - 12_000)).toBeLessThanOrEqual(2 * POLL_MS)
  })

  it("is told of a press, which counts before the first byte", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    const pressed = desk.now
    follower.order({ order: "press", atMs: pressed })
    await desk.look(follower, 3)
    await desk.export(follower, 5)
    await desk.look(follower, 62)
    expect(desk.ended).toMatchObject({ kind: "stopped", pressed: true, startedMs: pressed })
  })

  it("begins the next run with what is there now as there before", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    await desk.export(follower, 5)
    await desk.look(follower, 62)
    follower.order({ order: "next", key: "second" })
    await desk.look(follower, 5)
    const armedAt = desk.kept?.state?.before
    follower.order({ order: "next", key: "second" })
    await desk.look(follower, 1)
    expect(desk.kept?.key).toBe("second")
    expect(desk.kept?.state?.before).toEqual(armedAt)
    expect(desk.ended).toBeNull()
    await desk.export(follower, 7, "other.mp4")
    await desk.look(follower, 62)
    expect(desk.ended?.name).toBe("other.mp4")
    expect(desk.ended?.doubt).toBeNull()
  })
})

describe("a watch that cannot go well", () => {
  it("says that a film without its end was cut off, as on a disk that is full", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    const begun = new Uint8Array(64)
    begun.set([0, 0, 0, 16, 0x66, 0x74, 0x79, 0x70], 0)
    begun.set([0, 0, 8, 0, 0x6d, 0x64, 0x61, 0x74], 16)
    desk.write("film.mp4", begun)
    await desk.look(follower, 64)
    expect(desk.ended?.doubt).toContain("cut off")
  })

  it("doubts a length over which the clock was set", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    await desk.export(follower, 4)
    desk.set = 3000
    await desk.export(follower, 4)
    await desk.look(follower, 62)
    expect(desk.ended?.doubt).toContain("clock was set by 3.0 s")
  })

  it("doubts a length over which the machine slept", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    await desk.export(follower, 4)
    desk.now += 600_000
    await desk.export(follower, 4)
    await desk.look(follower, 62)
    expect(desk.ended?.doubt).toContain("did the machine sleep?")
  })

  it("doubts a file that was written elsewhere", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    await desk.look(follower, 10)
    desk.write("film.mp4", 5_000_000)
    const file = desk.files.get("film.mp4")
    if (file) file.at -= 4000
    await desk.look(follower, 64)
    expect(desk.ended?.doubt).toContain("written elsewhere")
  })

  it("says that it may not look, or that there is no folder, and looks again", async () => {
    const desk = new Desk()
    const follower = await armed(desk)
    desk.refuses = "NotAllowedError"
    await follower.step()
    desk.refuses = "NotFoundError"
    await follower.step()
    desk.refuses = null
    expect(desk.said.filter((each) => each.said === "trouble")).toEqual([
      { said: "trouble", trouble: "permission" },
      { said: "trouble", trouble: "folder" },
    ])
    await desk.export(follower, 3)
    expect(desk.said.some((each) => each.said === "started")).toBe(true)
  })

  it("says that nothing can be kept, and times on", async () => {
    const desk = new Desk()
    desk.full = true
    const follower = await armed(desk)
    expect(desk.said).toContainEqual({ said: "trouble", trouble: "room" })
    await desk.export(follower, 3)
    expect(desk.said.some((each) => each.said === "started")).toBe(true)
  })
})

describe("a look", () => {
  it("leaves out what has gone, and keeps what nobody lets near as it was", async () => {
    const file = (name: string, refusal: string | null) => ({
      kind: "file",
      name,
      getFile: async () => {
        if (refusal) throw new DOMException("no", refusal)
        return new File(["abc"], name, { lastModified: T0 })
      },
    })
    const listed = [file("b", null), file("gone", "NotFoundError"), file("a", "NotReadableError")]
    const folder = {
      async *values() {
        yield* listed
        yield { kind: "directory", name: "inside" }
      },
    } as unknown as FileSystemDirectoryHandle
    const first = await lookAt(folder, new Map())
    expect(first.map((each) => each.name)).toEqual(["b"])
    const before = new Map([["a", { ...(first[0] as (typeof first)[0]), name: "a" }]])
    const second = await lookAt(folder, before)
    expect(second.map((each) => each.name)).toEqual(["a", "b"])
    expect(sameLook(first, second)).toBe(false)
    expect(sameLook(second, await lookAt(folder, before))).toBe(true)
  })

  it("reads endings as people type them", () => {
    expect(readEndings(" .MP4, mov;*.mkv  *")).toEqual([".mp4", ".mov", ".mkv"])
    expect(readEndings("")).toEqual([])
  })
})

describe("whether a film is whole", () => {
  const box = (kind: string, length: number, told = length) => {
    const bytes = new Uint8Array(length)
    new DataView(bytes.buffer).setUint32(0, told)
    bytes.set(new TextEncoder().encode(kind), 4)
    return bytes
  }
  it.each([
    ["whole", [box("ftyp", 16), box("mdat", 40), box("moov", 24)], false],
    ["no index", [box("ftyp", 16), box("mdat", 40)], true],
    ["ends inside a box", [box("ftyp", 16), box("moov", 24), box("mdat", 40, 90)], true],
    ["a box of nothing", [box("ftyp", 16), box("mdat", 40, 3)], true],
    ["of another kind", [box("EBML", 16)], false],
    ["empty", [], false],
  ])("%s", async (_, parts, cut) => {
    expect(await isCutOff(new Blob(parts))).toBe(cut)
  })
})

describe("a lane that its file has timed", () => {
  it("ends from the beginning as it is known then, with its marks moved along", () => {
    let desk = withLane(EMPTY, "s", ["t"], "run")
    expect(byRun(desk, "run", "run")?.number).toBe(1)
    expect(byRun(desk, "run", "another")).toBeUndefined()
    desk = start(desk, 1, T0)
    desk = mark(desk, 1, { file_gb: 1 }, T0 + 5000)
    desk = mark(desk, 1, { file_gb: 2 }, T0 + 20_000)
    desk = endWatched(desk, 1, T0 - 1000, T0 + 12_000)
    const lane = laneOf(desk, 1)
    expect([lane?.phase, lane?.elapsedS]).toEqual(["stopped", 13])
    expect(lane?.marks.map((each) => each.elapsed_s)).toEqual([6])
    expect(endWatched(desk, 1, T0, T0 + 1)).toBe(desk)
  })
})

describe("a timer whose folder cannot be kept on this device", () => {
  it("is taken away again, and says why", async () => {
    serve({})
    const bench = new Bench("no room")
    const chosen = { folder: new Desk().folder, endings: [], again: false }
    // There is no database in this page.
    await expect(bench.addWatched("s", ["t"], chosen)).rejects.toThrow()
    expect(bench.read().desk.lanes).toEqual([])
    expect(bench.read().watches.size).toBe(0)
  })
})

/**
 * When an export began and ended, by looks at the files that it writes: the rules of
 * `core/file_watch.py`, which says why. One test holds both against each other, look by look.
 */

const QUIET_LOOKS = 5
const LEAST_QUIET_S = 3
const CLOSED_QUIET_S = 0.5
export const BLIND_S = 60
const WHOLE = 0.9
const MARK_STEP = 0.02
const TICK_S = 0.02
const GAP_S = 10
const GAP_LOOKS = 10
const WRITTEN_BEFORE = "it was being written when the watch was armed"
const MOVED = "it was written elsewhere and moved here"

/** A file at one look; moments in seconds of the looks' clock. */
export type FileSeen = {
  name: string
  size: number
  /** When it last changed, as the disk tells it. */
  changed_s: number
  /** Whether a program holds it; null where that cannot be told. */
  open: boolean | null
  modified_s: number
  born_s: number | null
  key: string | number | null
  /** Both times by which two looks are held against each other. */
  stamp: [number, number]
  /** Whether a new name moves `changed_s`. */
  names_told: boolean
}

export type WatchEvent = {
  kind: "started" | "mark" | "stopped" | "failed"
  at_s: number
  fraction?: number
  reason?: string
  started_s?: number
  spread_s?: number
  doubt?: string | null
  name?: string
}

type Within = { early: number; late: number }
type Key = string | number
type Track = {
  key: Key
  seen: FileSeen
  first: Within
  last: Within
  /** The look that showed its last change. */
  lookedS: number
  here: boolean
  doubt: string | null
  moved: boolean
}

/** What a watch knows, in plain values. */
export type WatchState = {
  startedS: number | null
  done: boolean
  before: Map<Key, FileSeen> | null
  atRest: Set<Key>
  empty: Set<Key>
  known: Known
  tracks: Map<Key, Track>
  lastAt: number
  changeAt: number
  marked: number
  pressed: number | null
  gap: number | null
  otherClock: boolean
}
type Known = { last: Map<Key, FileSeen>; called: Map<string, Key> }

function nothingSeen(): WatchState {
  return {
    startedS: null,
    done: false,
    before: null,
    atRest: new Set(),
    empty: new Set(),
    known: { last: new Map(), called: new Map() },
    tracks: new Map(),
    lastAt: 0,
    changeAt: 0,
    marked: 0,
    pressed: null,
    gap: null,
    otherClock: false,
  }
}

export type Watched = {
  wanted: (name: string) => boolean
  pollS: number
  expectedBytes?: number | null
  giveUpS?: number
  blindS?: number
}

const middle = (within: Within) => (within.early + within.late) / 2
const width = (within: Within) => Math.max(within.late - within.early, 0)
const sameContent = (one: FileSeen, other: FileSeen) =>
  one.size === other.size && one.stamp[1] === other.stamp[1]
const isCoarse = (file: FileSeen) => file.stamp.every((told) => told % 1_000_000_000 === 0)

/** The smallest by a measure; of equal ones the first. */
function least<T>(all: T[], of: (each: T) => number): T | undefined {
  return all.reduce<T | undefined>(
    (best, each) => (best === undefined || of(each) < of(best) ? each : best),
    undefined,
  )
}

/** What files are known by from look to look, whatever they are called. */
class Names {
  constructor(private readonly known: Known) {}

  of(files: FileSeen[]): Map<Key, FileSeen> {
    const names = new Set(files.map((file) => file.name))
    const gone = new Map([...this.known.last].filter(([, file]) => !names.has(file.name)))
    const before = new Map([...this.known.last.values()].map((file) => [file.name, file]))
    const now = new Map<Key, FileSeen>()
    for (const file of files) {
      let { key } = file
      if (key === null) {
        const last = before.get(file.name)
        const same = last !== undefined && sameContent(last, file)
        key = same
          ? (this.known.called.get(file.name) ?? file.name)
          : this.keyless(file, gone, last !== undefined)
        while (now.has(key)) key = `${key}'`
        this.known.called.set(file.name, key)
      }
      now.set(key, file)
    }
    this.known.last = now
    return now
  }

  private keyless(file: FileSeen, gone: Map<Key, FileSeen>, known: boolean): Key {
    for (const [key, old] of gone) {
      if (old.key === null && old.size > 0 && sameContent(old, file)) {
        gone.delete(key)
        return key
      }
    }
    return known ? (this.known.called.get(file.name) ?? file.name) : file.name
  }
}

/** Follows the files of one export. */
export class FileWatch {
  /** Everything that the looks have shown; it can be kept, and gone on with. */
  readonly state: WatchState
  private readonly quietS: number
  private readonly giveUpS: number
  private readonly blindS: number
  private readonly expected: number | null
  private readonly names: Names

  constructor(
    private readonly watched: Watched,
    kept: WatchState | null = null,
  ) {
    this.quietS = Math.max(LEAST_QUIET_S, QUIET_LOOKS * watched.pollS)
    this.giveUpS = Math.max(watched.giveUpS ?? 60, this.quietS)
    this.blindS = Math.max(watched.blindS ?? BLIND_S, this.quietS)
    this.expected = watched.expectedBytes ?? null
    this.state = kept ?? nothingSeen()
    this.names = new Names(this.state.known)
  }

  get startedS(): number | null {
    return this.state.startedS
  }

  get done(): boolean {
    return this.state.done
  }

  private get tracks(): Map<Key, Track> {
    return this.state.tracks
  }

  /** How large what is being written is, in bytes. */
  get size(): number {
    return Math.max(0, ...this.here.map((track) => track.seen.size))
  }

  /** How long all has been quiet, and how long it has to be. */
  quiet(atS: number): { forS: number; neededS: number } {
    const blind = this.here.some((track) => track.seen.open === null)
    return { forS: atS - this.state.changeAt, neededS: blind ? this.blindS : this.quietS }
  }

  arm(atS: number, files: FileSeen[], beganS = atS): void {
    this.state.before = this.names.of(files)
    this.state.atRest = new Set(
      [...this.state.before].filter(([, file]) => this.rests(file, atS)).map(([key]) => key),
    )
    this.state.lastAt = beganS
  }

  /** Start by a person's press, before the first byte is there. */
  begin(atS: number): WatchEvent {
    this.state.startedS = this.state.pressed = this.state.changeAt = atS
    return { kind: "started", at_s: atS }
  }

  /**
   * Takes in a look; gives what happened since the last one. Nothing that it shows happened after
   * `atS`; what it does not show may have happened since it was begun.
   */
  observe(atS: number, files: FileSeen[], beganS = atS): WatchEvent[] {
    if (this.state.before === null) {
      this.arm(atS, files, beganS)
      return []
    }
    if (this.done) return []
    const begun = this.tracks.size > 0
    this.follow(atS, files)
    const events: WatchEvent[] = []
    if (this.startedS === null && this.tracks.size > 0) {
      const first = least([...this.tracks.values()], (track) => middle(track.first)) as Track
      const at_s = middle(first.first)
      this.state.startedS = at_s
      events.push({ kind: "started", at_s, doubt: first.doubt ?? (first.moved ? MOVED : null) })
    }
    if (this.startedS !== null) {
      const gap = atS - this.state.lastAt
      if (begun && gap > Math.max(GAP_S, GAP_LOOKS * this.watched.pollS)) {
        this.state.gap = Math.max(this.state.gap ?? 0, gap)
      }
      events.push(...this.mark(atS), ...this.end(atS))
    }
    this.state.lastAt = beganS
    return events
  }

  private rests(file: FileSeen, atS: number): boolean {
    if (file.open === true) return false
    return atS - file.modified_s >= (file.open === false ? CLOSED_QUIET_S : this.quietS)
  }

  private follow(atS: number, files: FileSeen[]): void {
    const now = this.names.of(files)
    for (const [key, file] of now) {
      const track = this.tracks.get(key)
      if (track) this.tracks.set(key, this.grown(track, file, atS))
      else if (this.isOwn(key, file)) {
        this.tracks.set(key, this.begun(key, file, atS))
        this.state.changeAt = atS
      } else if (file.size === 0) this.state.empty.add(key)
    }
    for (const [key, track] of this.tracks) {
      if (now.has(key) || !track.here) continue
      this.tracks.set(key, { ...track, here: false, lookedS: atS })
      this.state.changeAt = atS
    }
  }

  private isOwn(key: Key, file: FileSeen): boolean {
    if (file.size === 0 && this.startedS === null) return false
    const before = this.state.before?.get(key)
    if (before === undefined) return true
    return !sameContent(before, file) || (before.name !== file.name && !this.state.atRest.has(key))
  }

  private begun(key: Key, file: FileSeen, atS: number): Track {
    const born = this.born(file, atS)
    const last = this.lastChange(file, atS, true, false)
    const between = { early: this.state.lastAt, late: atS }
    const own = { key, seen: file, last, lookedS: atS, here: true, doubt: null, moved: false }
    const known = this.state.before?.has(key) ?? false
    if (known && !this.state.atRest.has(key)) {
      const first = born === null ? between : { early: born, late: born }
      return { ...own, first, doubt: WRITTEN_BEFORE }
    }
    const fresh = !known && !this.state.empty.has(key)
    const made = fresh ? born : null
    const oldest = made ?? file.modified_s
    if (!this.tellsWhen(file, atS, fresh)) {
      const moved = fresh && !file.names_told && oldest < this.state.lastAt - TICK_S
      return { ...own, first: between, moved }
    }
    const moved = fresh && oldest < this.state.lastAt - this.slack
    const first =
      moved && made !== null
        ? { early: made, late: made }
        : { early: Math.max(this.state.lastAt, made ?? 0), late: Math.min(atS, file.changed_s) }
    return { ...own, first, moved }
  }

  private born(file: FileSeen, atS: number): number | null {
    if (file.born_s === null) return null
    for (const old of this.state.before?.values() ?? []) {
      const given = old.name === file.name && old.key !== file.key && old.born_s === file.born_s
      if (given) return null
    }
    return Math.min(file.born_s, atS)
  }

  private tellsWhen(file: FileSeen, atS: number, fresh: boolean): boolean {
    if (fresh && !file.names_told && file.modified_s < this.state.lastAt - TICK_S) return false
    return this.toldRight(file, file.changed_s, atS)
  }

  private get slack(): number {
    return Math.max(this.watched.pollS, 1)
  }

  private toldRight(file: FileSeen, told: number, atS: number): boolean {
    if (isCoarse(file)) return false
    const right = this.state.lastAt - TICK_S <= told && told <= atS + TICK_S
    this.state.otherClock = this.state.otherClock || !right
    return right
  }

  private lastChange(file: FileSeen, atS: number, named: boolean, setBack: boolean): Within {
    const early = this.state.lastAt - TICK_S
    const content = file.modified_s
    if (!file.names_told && (named || setBack)) {
      const known = named && !isCoarse(file) && early <= content && content <= atS
      return { early: known ? Math.max(this.state.lastAt, content) : this.state.lastAt, late: atS }
    }
    const back = content < early && early <= file.changed_s
    const told = named || back ? file.changed_s : content
    if (!this.toldRight(file, told, atS)) return { early: this.state.lastAt, late: atS }
    const at = Math.min(Math.max(told, this.state.lastAt), atS)
    return {
      early: Math.max(at - TICK_S / 2, this.state.lastAt),
      late: Math.min(at + TICK_S / 2, atS),
    }
  }

  private grown(track: Track, file: FileSeen, atS: number): Track {
    const named = track.seen.name !== file.name
    const written = !sameContent(track.seen, file)
    if (track.here && !named && !written) return { ...track, seen: file }
    this.state.changeAt = atS
    const setBack = file.modified_s < track.seen.modified_s
    const last = this.lastChange(file, atS, named, setBack)
    const moved = file.names_told || !written ? track.moved : setBack
    return { ...track, seen: file, here: true, last, lookedS: atS, moved }
  }

  private get here(): Track[] {
    return [...this.tracks.values()].filter((track) => track.here)
  }

  private mark(atS: number): WatchEvent[] {
    if (this.expected === null || this.here.length === 0 || atS !== this.state.changeAt) return []
    const fraction = Math.min(1, this.size / this.expected)
    if (fraction - this.state.marked < MARK_STEP || fraction >= 1) return []
    this.state.marked = fraction
    return [{ kind: "mark", at_s: atS, fraction }]
  }

  private end(atS: number): WatchEvent[] {
    const { here } = this
    const finished = here.filter(
      (track) => this.watched.wanted(track.seen.name) && track.seen.size > 0,
    )
    if (!this.quietEnough(atS, here, finished)) return []
    if (here.length === 0) return this.tracks.size > 0 ? this.fail("the file is gone") : []
    if (finished.length === 0) {
      const names = here.map((track) => track.seen.name).sort()
      const words = `it never got its name: only ${names.join(", ")} is there`
      return atS - this.state.changeAt >= this.giveUpS ? this.fail(words) : []
    }
    const last = finished.reduce((best, track) =>
      track.last.late > best.last.late ||
      (track.last.late === best.last.late && track.seen.size > best.seen.size)
        ? track
        : best,
    )
    if (this.expected !== null && last.seen.size < WHOLE * this.expected) {
      const part = ((100 * last.seen.size) / this.expected).toFixed(0)
      return this.fail(`it stopped at ${part} % of the expected size`)
    }
    this.state.done = true
    return [this.stopped(finished, last)]
  }

  private quietEnough(atS: number, here: Track[], finished: Track[]): boolean {
    if (here.some((track) => track.seen.open === true)) return false
    const looked = finished.map((track) => track.lookedS)
    const done = atS - (looked.length > 0 ? Math.max(...looked) : Number.POSITIVE_INFINITY)
    const quiet = Math.max(atS - this.state.changeAt, done >= this.giveUpS ? done : 0)
    const blind = here.some((track) => track.seen.open === null)
    return quiet >= (blind ? this.blindS : this.quietS)
  }

  private stopped(finished: Track[], last: Track): WatchEvent {
    const fromS = Math.min(...finished.map((track) => track.first.early)) - TICK_S
    const gone = [...this.tracks.values()].filter((track) => !track.here)
    const own = [...finished, ...gone.filter((track) => track.lookedS >= fromS)]
    const begun = least(own, (track) => middle(track.first)) as Track
    const first =
      this.state.pressed === null
        ? begun.first
        : { early: this.state.pressed, late: this.state.pressed }
    const started = middle(first)
    const spread = Math.sqrt((width(first) ** 2 + width(last.last) ** 2) / 2)
    const doubts = new Set(this.doubts(own, last, started))
    return {
      kind: "stopped",
      at_s: Math.max(middle(last.last), started),
      started_s: started,
      spread_s: Math.max(spread, TICK_S),
      doubt: [...doubts].join("; ") || null,
      name: last.seen.name,
    }
  }

  private *doubts(own: Track[], last: Track, started: number): Generator<string> {
    const others = [...this.tracks.values()].filter((track) => !own.includes(track))
    if (this.state.pressed === null) {
      for (const track of own) if (track.doubt !== null) yield track.doubt
      for (const track of own) if (track.moved) yield MOVED
      for (const track of others) {
        if (track.first.late >= started - this.slack) continue
        const ahead = started - middle(track.first)
        yield `${track.seen.name} came ${ahead.toFixed(0)} s before it`
      }
    }
    for (const track of others) {
      if (track.here && track.last.early > last.last.late) {
        yield `${track.seen.name} was written after it`
      }
    }
    yield* this.doubtsOfTwo(own)
    if (!this.state.otherClock && last.seen.modified_s < started - this.slack) {
      yield "its content is older than its beginning here: it may be a copy"
    }
    if (this.state.gap !== null) {
      yield `nothing was seen for ${this.state.gap.toFixed(0)} s: did the machine sleep?`
    }
  }

  private *doubtsOfTwo(own: Track[]): Generator<string> {
    let quietFrom: number | null = null
    for (const track of [...own].sort((one, other) => middle(one.first) - middle(other.first))) {
      if (!track.here || !this.watched.wanted(track.seen.name)) continue
      if (quietFrom !== null && track.first.early - quietFrom >= this.quietS) {
        const ago = (track.first.early - quietFrom).toFixed(0)
        yield `${track.seen.name} began ${ago} s after the one before it: two exports?`
      }
      quietFrom = Math.max(quietFrom ?? track.last.late, track.last.late)
    }
  }

  private fail(reason: string): WatchEvent[] {
    this.state.done = true
    return [{ kind: "failed", at_s: this.state.changeAt, reason }]
  }
}

/** Everything that a list of looks shows; for holding these rules against those of the server. */
export function replayed(
  looks: [number, FileSeen[], number][],
  ending: string,
  pollS: number,
  giveUpS: number,
): WatchEvent[] {
  const rules = new FileWatch({ wanted: (name) => name.endsWith(ending), pollS, giveUpS })
  return looks.flatMap(([atS, files, beganS]) => rules.observe(atS, files, beganS))
}

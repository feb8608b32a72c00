/** What stored values are called, as the core has it; made by `make types`. */

/** What a stored value is called; a value without a label is its own. */
export function labelOf(table: Readonly<Record<string, string>>, value: string): string {
  return table[value] ?? value
}

export const RESULT = {
  clear: "clear",
  ahead: "ahead",
  level: "same speed",
  open: "undecided",
  "not comparable": "not comparable",
  baseline: "baseline",
  bound: "not timed: a bound",
  noted: "not timed: noted",
} as const

export const VERDICT = {
  holds: "holds",
  likely: "likely",
  understated: "understated",
  overstated: "overstated",
  "within noise": "no clear difference",
  backwards: "wrong way round",
  untested: "not tested",
  asked: "which one?",
  unread: "not understood",
  "not the same": "not the same",
} as const

export const RUN_STATUS = { ok: "counted", void: "not counted", failed: "failed" } as const

export const RUN_FLAG = {
  "odd one": "odd",
  "first differs": "first differs",
  drifting: "drifting",
  "bound contradicts": "bound contradicts",
  coarse: "rough timing",
  "slowed down": "slowed down",
  "wrong output": "wrong output",
} as const

export const METHOD = {
  stopwatch: "by stopwatch",
  "one press": "by stopwatch, one press",
  log: "from the log",
  watch: "by its watcher",
  recording: "from a recording",
  remembered: "from memory",
  stated: "as the app states it",
} as const

export const PARITY_WEIGHT = {
  breaks: "not comparable",
  muddies: "caveat",
  allowed: "expected",
} as const

export const SAYINGS = {
  faster: { words: "is faster than", paired: true, numbered: false, ofAll: false },
  "much faster": { words: "is much faster than", paired: true, numbered: false, ofAll: false },
  "slightly faster": {
    words: "is slightly faster than",
    paired: true,
    numbered: false,
    ofAll: false,
  },
  slower: { words: "is slower than", paired: true, numbered: false, ofAll: false },
  "much slower": { words: "is much slower than", paired: true, numbered: false, ofAll: false },
  "slightly slower": {
    words: "is slightly slower than",
    paired: true,
    numbered: false,
    ofAll: false,
  },
  "times as fast": { words: "is … times as fast as", paired: true, numbered: true, ofAll: false },
  "percent faster": { words: "is … % faster than", paired: true, numbered: true, ofAll: false },
  "percent slower": { words: "is … % slower than", paired: true, numbered: true, ofAll: false },
  "percent less time": {
    words: "takes … % less time than",
    paired: true,
    numbered: true,
    ofAll: false,
  },
  "percent more time": {
    words: "takes … % more time than",
    paired: true,
    numbered: true,
    ofAll: false,
  },
  "part of the time": {
    words: "takes … % of the time of",
    paired: true,
    numbered: true,
    ofAll: false,
  },
  "times as long": {
    words: "takes … times as long as",
    paired: true,
    numbered: true,
    ofAll: false,
  },
  saves: { words: "saves … over", paired: true, numbered: true, ofAll: false },
  later: { words: "is done … after", paired: true, numbered: true, ofAll: false },
  same: { words: "is as fast as", paired: true, numbered: false, ofAll: false },
  "too close": {
    words: "is too close to call against",
    paired: true,
    numbered: false,
    ofAll: false,
  },
  "faster everywhere": {
    words: "is faster in every task than",
    paired: true,
    numbered: false,
    ofAll: true,
  },
  "slower everywhere": {
    words: "is slower in every task than",
    paired: true,
    numbered: false,
    ofAll: true,
  },
  "better value": { words: "is better value than", paired: true, numbered: false, ofAll: true },
  takes: { words: "takes …", paired: false, numbered: true, ofAll: false },
  "real time": { words: "runs at … times real time", paired: false, numbered: true, ofAll: false },
  fastest: { words: "is the fastest", paired: false, numbered: false, ofAll: false },
  slowest: { words: "is the slowest", paired: false, numbered: false, ofAll: false },
  place: { words: "is in place …", paired: false, numbered: true, ofAll: false },
  wins: { words: "wins … tasks", paired: false, numbered: true, ofAll: true },
  "best value": { words: "is the best value", paired: false, numbered: false, ofAll: true },
  costs: { words: "costs …", paired: false, numbered: true, ofAll: true },
  "costs more": { words: "costs … more than", paired: true, numbered: true, ofAll: true },
  "costs less": { words: "costs … less than", paired: true, numbered: true, ofAll: true },
  "percent dearer": { words: "costs … % more than", paired: true, numbered: true, ofAll: true },
  "percent cheaper": { words: "costs … % less than", paired: true, numbered: true, ofAll: true },
  "times the price": {
    words: "costs … times as much as",
    paired: true,
    numbered: true,
    ofAll: true,
  },
  dearer: { words: "is dearer than", paired: true, numbered: false, ofAll: true },
  cheaper: { words: "is cheaper than", paired: true, numbered: false, ofAll: true },
  "same price": { words: "costs the same as", paired: true, numbered: false, ofAll: true },
  cheapest: { words: "is the cheapest", paired: false, numbered: false, ofAll: true },
  dearest: { words: "is the most expensive", paired: false, numbered: false, ofAll: true },
} as const

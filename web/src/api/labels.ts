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

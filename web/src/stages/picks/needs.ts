/** What a viewer may need, how it may be asked for, and from which words to choose. */
import { PlaybackQuality, TrialGrade, TrialKind, TroubleKind } from "../../api/choices"
import type { Schemas } from "../../api/client"
import type { Need } from "./draft"

export type Askable = {
  about: string
  title: string
  relations: Need["relation"][]
  /** Words to choose from; empty where a value is typed. */
  choices: string[]
  unit: string | null
}

/** What may be asked for: the worst of each asks for nothing. */
const GRADES = TrialGrade.filter((grade) => grade !== "unusable")
const QUALITIES = PlaybackQuality.filter((quality) => quality !== "none")
const SEEN: Askable[] = [
  { about: "failures", title: "Failed runs", relations: ["none"], choices: [], unit: null },
  { about: "noise_db", title: "Noise level", relations: ["at most"], choices: [], unit: "dB" },
  {
    about: "playback",
    title: "Playback quality",
    relations: ["at least"],
    choices: QUALITIES,
    unit: null,
  },
  ...TrialKind.map((kind) => ({
    about: `trial:${kind}`,
    title: `Editing trial, ${kind}`,
    relations: ["at least" as const],
    choices: GRADES,
    unit: null,
  })),
  ...TroubleKind.map((kind) => ({
    about: `trouble:${kind}`,
    title: `Troubles, ${kind}`,
    relations: ["none" as const],
    choices: [],
    unit: null,
  })),
]
const WAYS: Record<string, Need["relation"][]> = {
  number: ["at least", "at most", "is"],
  "whole number": ["at least", "at most", "is"],
  "year or month": ["not before"],
  "list of words": ["includes"],
  "yes or no": ["is"],
  "one of a few words": ["is", "is not"],
  text: ["is", "is not", "contains"],
  "long text": ["contains"],
}

/** Everything that may be asked for: what was observed, then every row of the sheet. */
export function askable(rows: Schemas["SpecRow"][]): Askable[] {
  const own = rows.map((row) => ({
    about: row.field,
    title: row.title,
    relations: row.field === "noise" ? ["at most" as const] : (WAYS[row.kind] ?? ["is" as const]),
    choices: row.kind === "yes or no" ? ["yes", "no"] : row.choices,
    unit: row.unit,
  }))
  return [...own, ...SEEN]
}

/** What is read off a film: where a run begins and ends in it, and how far it was in between. */
import type { Schemas } from "../../api/client"
import { keptClock } from "../../theme/format"
import type { MarkAt } from "../lane"
import { type Film, frameS } from "./frames"

export type FilmMark = { frame: number; fraction: number }

/** A run in a film; frames are counted from 0. */
export type Cut = {
  id: string
  setupId: string
  taskId: string
  start: number | null
  end: number | null
  marks: FilmMark[]
}

/** Seconds from the beginning to the end; null where one is missing, or they are swapped. */
export function lengthOf(film: Film, cut: Cut): number | null {
  if (cut.start === null || cut.end === null || cut.end <= cut.start) return null
  return (film.times[cut.end] ?? 0) - (film.times[cut.start] ?? 0)
}

/** How long the longer of both frames is shown: a moment lies within its frame. */
export function frameOf(film: Film, cut: Cut): number {
  return Math.max(frameS(film, cut.start ?? 0), frameS(film, cut.end ?? 0))
}

/** Marks in seconds after the beginning, in order; those outside of the run are left out. */
export function marksOf(film: Film, cut: Cut): MarkAt[] {
  const { start, end } = cut
  if (start === null) return []
  return cut.marks
    .filter((mark) => mark.frame > start && (end === null || mark.frame < end))
    .sort((one, other) => one.frame - other.frame)
    .map((mark) => ({
      elapsed_s:
        Math.round(1000 * ((film.times[mark.frame] ?? 0) - (film.times[start] ?? 0))) / 1000,
      fraction: mark.fraction,
    }))
}

/** Why a run cannot be stored yet; null where it can. */
export function whyNot(film: Film, cut: Cut): string | null {
  if (cut.start === null) return "Go to the frame at which the export begins, and press S."
  if (cut.end === null) return "Go to the frame at which it is done, and press E."
  if (cut.end <= cut.start) return "It ends before it begins."
  const marks = marksOf(film, cut)
  const falls = marks.some((mark, at) => (mark.fraction ?? 0) < (marks[at - 1]?.fraction ?? 0))
  return falls ? "Its marks go backwards: less cannot be done later." : null
}

/** The run as it goes into the book; its key keeps a second press from storing it twice. */
export function runOf(film: Film, cut: Cut): Schemas["NewRun"] {
  const seconds = lengthOf(film, cut) ?? 0
  return {
    setup_id: cut.setupId,
    task_id: cut.taskId,
    typed: keptClock(seconds, 0.001),
    method: "recording",
    poll_s: frameOf(film, cut),
    status: "ok",
    placed_u: 0,
    conditions: {},
    note: `${film.name}, frames ${(cut.start ?? 0) + 1} to ${(cut.end ?? 0) + 1}`.slice(0, 2000),
    client_key: cut.id,
  }
}

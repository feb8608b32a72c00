/** Weekly work in the units that people use, and times as they are typed. */
import type { Part } from "./draft"

export type PickTask = {
  id: string
  name: string
  measure: string
  work: number | null
  unit: string | null
}

/** In which unit a task's amount is shown, and how much of the stored amount one of it is. */
export function unitOf(task: PickTask, part: Part): { name: string; size: number } {
  if (part.by_run || task.work === null) return { name: "times", size: 1 }
  if (task.unit === "s" || task.unit === null) return { name: "min of video", size: 60 }
  return { name: task.unit, size: 1 }
}

/** The units that a task may be counted in. */
export function unitsOf(task: PickTask): { by_run: boolean; name: string }[] {
  if (task.work === null) return [{ by_run: true, name: "times" }]
  const plain = task.unit === "s" || task.unit === null ? "min of video" : task.unit
  return [
    { by_run: false, name: plain },
    { by_run: true, name: "times" },
  ]
}

/** The amount as it is in another unit: the same work. */
export function recount(task: PickTask, part: Part, by_run: boolean): Partial<Part> {
  if (part.by_run === by_run || task.work === null) return { by_run }
  return { by_run, amount: by_run ? part.amount / task.work : part.amount * task.work }
}

/** Reads a time with a colon (5:00, 1:05:00) in seconds; null where it is none. */
export function readClock(text: string): number | null {
  const found = /^(?:(\d{1,3}):)?(\d{1,3}):([0-5]\d)$/.exec(text.trim())
  if (!found) return null
  const [hours, minutes, seconds] = [found[1] ?? "0", found[2], found[3]].map(Number)
  return 3600 * (hours ?? 0) + 60 * (minutes ?? 0) + (seconds ?? 0)
}

/** A round number well above a value, for the end of a slider. */
export function endOf(value: number, least: number): number {
  const wanted = Math.max(2.5 * value, least)
  const size = 10 ** Math.floor(Math.log10(wanted))
  return Math.ceil(wanted / size) * size
}

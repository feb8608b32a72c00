/** One mark typed in a hurry: a number says how far, a unit says what else was read. */

import { localised, readNumber } from "../theme/format"
import { readLength } from "../theme/readLength"
import type { MarkAt } from "./lane"

type Said = Omit<MarkAt, "elapsed_s" | "withdrawn">

/** Forms in the order in which they are tried: words before and after the number. */
const FORMS: [RegExp, (value: number) => Said][] = [
  [form("", "%?"), (value) => ({ fraction: value / 100 })],
  [form("", "(?:fps|frames/s|f/s)"), (value) => ({ frames_per_s: value })],
  [form("", "(?:°?\\s*c|deg)"), (value) => ({ temperature_c: value })],
  [form("", "w"), (value) => ({ power_w: value })],
  [form("", "(?:db|dba)"), (value) => ({ noise_db: value })],
  [form("(?:file|export)", "(?:gb)?"), (value) => ({ file_gb: value })],
  [form("(?:file|export)", "mb"), (value) => ({ file_gb: value / 1000 })],
  [form("", "gb"), (value) => ({ memory_gb: value })],
  [form("(?:memory|ram)", "(?:gb)?"), (value) => ({ memory_gb: value })],
  [form("swap", "(?:gb)?"), (value) => ({ swap_gb: value })],
  [form("(?:vram|graphics memory)", "(?:gb)?"), (value) => ({ gpu_memory_gb: value })],
  [form("(?:cpu|processor)", "%?"), (value) => ({ cpu_load: value / 100 })],
  [form("(?:gpu|graphics)", "%?"), (value) => ({ gpu_load: value / 100 })],
]
const LEFT = /^(?:left|remaining)\s*(?:(?:(\d+):)?(\d+):(\d\d)|(\d+(?:[.,]\d+)?)\s*(s|min|m|h)?)$/i

/** What may be typed, for the line below the field. */
export const EXAMPLES = "40 · 71 °C · 180 W · 24 fps · 12 GB · swap 2 · gpu 90 · 38 dB · left 4:30"

function form(before: string, after: string): RegExp {
  return new RegExp(`^${before}\\s*(\\d[\\d.,\\u00a0\\u202f]*)\\s*${after}$`, "i")
}

/**
 * Reads a mark; a text that is no reading is an event, such as "fan starts".
 * Gives null where nothing was typed or a number is out of its range.
 */
export function readMark(text: string): Said | null {
  const body = text.trim()
  if (!body) return null
  for (const [pattern, said] of FORMS) {
    const found = pattern.exec(body)
    if (found?.[1]) return inRange(said(readNumber(found[1]) ?? Number.NaN))
  }
  const left = readLeft(body)
  if (left !== null) return { left_s: left }
  // "50 apples" is a slip of the finger rather than an event.
  return /^[\d.,-]/.test(body) ? null : { event: body.slice(0, 200) }
}

function readLeft(body: string): number | null {
  const found = LEFT.exec(body)
  if (!found) return null
  const [, hours, minutes, seconds, number, unit] = found
  if (number === undefined) {
    return 3600 * Number(hours ?? 0) + 60 * Number(minutes) + Number(seconds)
  }
  const each = { s: 1, h: 3600 }[unit?.toLowerCase() ?? ""] ?? (unit ? 60 : 1)
  const amount = readNumber(number)
  return amount === null ? null : amount * each
}

function inRange(said: Said): Said | null {
  const numbers = Object.values(said).filter((part) => typeof part === "number")
  if (!numbers.every(Number.isFinite)) return null
  const parts = [said.fraction, said.cpu_load, said.gpu_load]
  return parts.some((part) => typeof part === "number" && part > 1) ? null : said
}

/** A number of a reading, with the reader's point. */
const spoken = (value: number) => localised(String(value))

const WORDS: [keyof Said, (value: number) => string][] = [
  ["fraction", (value) => `${spoken(Math.round(1000 * value) / 10)} %`],
  ["frames_per_s", (value) => `${spoken(value)} frames/s`],
  ["temperature_c", (value) => `${spoken(value)} °C`],
  ["power_w", (value) => `${spoken(value)} W`],
  ["memory_gb", (value) => `${spoken(value)} GB in use`],
  ["swap_gb", (value) => `${spoken(value)} GB swap`],
  ["cpu_load", (value) => `processor ${Math.round(100 * value)} %`],
  ["gpu_load", (value) => `graphics ${Math.round(100 * value)} %`],
  ["gpu_memory_gb", (value) => `${spoken(value)} GB graphics memory`],
  ["noise_db", (value) => `${spoken(value)} dB`],
  ["file_gb", (value) => `file of ${spoken(value)} GB`],
  [
    "left_s",
    (value) =>
      `app says ${Math.floor(value / 60)}:${`${Math.round(value % 60)}`.padStart(2, "0")} left`,
  ],
]

const AT = /^(.*\S)\s*(?:@|\bat|,\s*after)\s+(\d[\d:.,]*\s*(?:s|sec|min|m|h)?)$/i

/**
 * Reads what is typed of a run that is over: a reading, and the moment where one is said, as in
 * `63 % at 7:20`; without one it is of the run's end. Null where it is no reading.
 */
export function readLate(text: string): (Said & { elapsed_s: number | null }) | null {
  const found = AT.exec(text.trim())
  const seconds = found?.[2] ? readLength(found[2]) : null
  const said = readMark(found && seconds !== null ? (found[1] ?? "") : text)
  return said && { ...said, elapsed_s: seconds }
}

/** Writes what a mark says. */
export function markWords(mark: Said): string {
  const numbers = WORDS.flatMap(([field, write]) => {
    const value = mark[field]
    return typeof value === "number" ? [write(value)] : []
  })
  return [...numbers, ...(mark.event ? [mark.event] : [])].join(", ")
}

/** The marks that were not taken back. */
export function standing(marks: MarkAt[]): MarkAt[] {
  return marks.filter((mark) => !mark.withdrawn)
}

/** The newest reading of one kind, or null. */
export function newest(marks: MarkAt[], field: keyof Said): number | null {
  for (const mark of standing(marks).reverse()) {
    const value = mark[field]
    if (typeof value === "number") return value
  }
  return null
}

/** The marks that say how far it is, as the server's pace takes them. */
export function progress(marks: MarkAt[]): { elapsed_s: number; fraction: number }[] {
  return standing(marks).flatMap(({ elapsed_s, fraction }) =>
    typeof fraction === "number" ? [{ elapsed_s, fraction }] : [],
  )
}

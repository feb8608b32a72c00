/** The one place where times, ratios and money are written, in the reader's own signs. */

export const MISSING = "–"

/** The language that the browser asks the server for too, so that both write alike. */
const READER = navigator.language
const DIGITS = { numberingSystem: "latn" }
const SIGNS = new Intl.NumberFormat(READER, DIGITS).formatToParts(1234567.8)
const sign = (type: string, or: string) => SIGNS.find((part) => part.type === type)?.value ?? or
/** Between the whole and the decimals. */
const POINT = sign("decimal", ".")
/** Between thousands. */
const GROUP = sign("group", " ")

/** Turns a number as the language writes it (-1.5) into the reader's signs. */
export function localised(written: string): string {
  return written.replace(".", POINT).replace(/^-/, "−")
}

/** Reads a plain number with the reader's signs, a decimal point or comma, or thin spaces; null
 * where it is none, or where a sign may stand for thousands as well as before decimals. */
export function readNumber(text: string): number | null {
  const plain = plainNumber(text)
  return plain === null ? null : Number(plain)
}

/** A typed number with a point and nothing else, as the server takes it; null as above. */
export function plainNumber(text: string): string | null {
  let plain = text.replace(/[\s\u202f\u00a0]/g, "")
  if (GROUP === "." || GROUP === ",") {
    const grouped = new RegExp(`^-?\\d{1,3}(\\${GROUP}\\d{3})+(\\${POINT}\\d+)?$`)
    if (grouped.test(plain)) {
      // 1,499 alone may be either; 1,499.00 may not.
      if (!plain.includes(POINT)) return null
      plain = plain.replaceAll(GROUP, "")
    }
  }
  plain = plain.replace(",", ".")
  return /^-?\d+(\.\d+)?$/.test(plain) ? plain : null
}

/** Reads a whole number of things, with the reader's sign between thousands or without; null where
 * it is none. A whole number has no decimals, so nothing is in doubt. */
export function readWhole(text: string): number | null {
  const plain = text.replace(/[\s\u202f\u00a0]/g, "")
  const grouped = new RegExp(`^\\d{1,3}(\\${GROUP}\\d{3})+$`)
  const digits = grouped.test(plain) ? plain.replaceAll(GROUP, "") : plain
  return /^\d{1,9}$/.test(digits) ? Number(digits) : null
}

/** Writes seconds as a clock, with as many decimals as the resolution bears. */
export function clock(seconds: number | null | undefined, resolution_s = 1): string {
  return clockWith(POINT, seconds, resolution_s)
}

/** A clock as it is kept: the same whoever reads it. */
export function keptClock(seconds: number, resolution_s: number): string {
  return clockWith(".", seconds, resolution_s)
}

function clockWith(point: string, seconds: number | null | undefined, resolution_s: number) {
  if (seconds === null || seconds === undefined) return MISSING
  const decimals = Math.max(0, Math.min(3, Math.ceil(-Math.log10(resolution_s) - 1e-9)))
  const steps = Math.round(Math.abs(seconds) * 10 ** decimals)
  const whole = Math.floor(steps / 10 ** decimals)
  const part = decimals ? `${point}${String(steps % 10 ** decimals).padStart(decimals, "0")}` : ""
  const hours = Math.floor(whole / 3600)
  const minutes = Math.floor((whole % 3600) / 60)
  const rest = String(whole % 60).padStart(2, "0")
  const sign = seconds < 0 && steps > 0 ? "−" : ""
  if (hours) return `${sign}${hours}:${String(minutes).padStart(2, "0")}:${rest}${part}`
  return `${sign}${minutes}:${rest}${part}`
}

/** Writes a ratio, or an end of its interval, with two decimals. */
export function ratio(value: number | null | undefined): string {
  if (value === null || value === undefined) return MISSING
  return localised(value.toFixed(2))
}

/** Writes a plain number with at most `digits` decimals, a true minus sign, no grouping. */
export function plain(value: number | null | undefined, digits = 1): string {
  if (value === null || value === undefined) return MISSING
  return localised(value.toFixed(digits))
}

/** Writes a number that may be long, as short as it can be; its whole digits are all kept. */
export function compact(value: number | null | undefined): string {
  if (value === null || value === undefined) return MISSING
  if (Math.abs(value) >= 10_000) return localised(String(Math.round(value)))
  return localised(Number(value.toPrecision(4)).toString())
}

/** Writes an amount with as many decimals as its resolution bears. */
export function amount(value: number | null | undefined, resolution: number | null): string {
  if (value === null || value === undefined) return MISSING
  if (resolution === null) return compact(value)
  const decimals = Math.max(0, Math.min(6, Math.ceil(-Math.log10(resolution) - 1e-9)))
  return localised(value.toFixed(decimals))
}

/** Writes seconds saved: as a clock from two minutes on, with a sign. */
export function seconds(value: number): string {
  const sign = value < 0 ? "−" : "+"
  const size = Math.abs(value)
  if (size >= 120) return `${sign}${clock(size)}`
  return `${sign}${localised(size.toFixed(size >= 10 ? 0 : 1))} s`
}

/** Writes an amount of money in the reader's locale, without its currency. */
export function money(amount: string | number): string {
  const value = Number(amount)
  // Some currencies have thousandths; an amount says by its digits whether it is of one.
  const kept = typeof amount === "string" ? amount.replace(/0+$/, "").split(".")[1] : undefined
  const digits = Number.isInteger(value) ? 0 : (kept?.length ?? 0) > 2 ? 3 : 2
  return new Intl.NumberFormat(READER, {
    ...DIGITS,
    minimumFractionDigits: digits,
    maximumFractionDigits: digits,
  }).format(value)
}

/** Writes a day in the reader's locale. */
export function day(iso: string | null | undefined): string {
  if (!iso) return MISSING
  return new Intl.DateTimeFormat(READER, {
    ...DIGITS,
    day: "numeric",
    month: "short",
    year: "numeric",
  }).format(new Date(iso))
}

/** Writes the month of a moment in the reader's locale. */
export function monthYear(iso: string): string {
  return new Intl.DateTimeFormat(READER, { ...DIGITS, month: "short", year: "numeric" }).format(
    new Date(iso),
  )
}

/** Writes a moment in the reader's locale. */
export function moment(iso: string): string {
  return new Intl.DateTimeFormat(READER, {
    ...DIGITS,
    dateStyle: "medium",
    timeStyle: "short",
  }).format(new Date(iso))
}

/** Writes the time of day in the reader's locale, to the minute. */
export function hour(at: Date): string {
  return new Intl.DateTimeFormat(READER, { ...DIGITS, timeStyle: "short" }).format(at)
}

/** Writes a fraction as a percentage. */
export function percent(fraction: number, digits = 1): string {
  return `${localised(String(Number((100 * fraction).toFixed(digits))))} %`
}

/** Writes a run's value as its task measures it. */
export function runValue(
  run: {
    value: number | null
    resolution: number | null
    bound: string | null
    approximate: boolean
  },
  measure: string,
): string {
  if (run.value === null) return MISSING
  const sign = run.bound ? `${run.bound} ` : run.approximate ? "~" : ""
  if (measure === "amount") return sign + amount(run.value, run.resolution)
  return sign + clock(run.value, run.resolution ?? 1)
}

/** Says one or many. */
export function count(number: number, noun: string): string {
  return `${number} ${noun}${number === 1 ? "" : "s"}`
}

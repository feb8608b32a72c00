import { readNumber } from "./format"

/** Reads the length of a timeline, `11:00`, `1:02:03` or `660 s`, in seconds; null if it is none. */
export function readLength(text: string): number | null {
  const plain = text.trim().replace(",", ".")
  const colon = /^(?:(\d+):)?(\d+):(\d\d(?:\.\d+)?)$/.exec(plain)
  if (colon) {
    const [hours, minutes, rest] = [colon[1] ?? "0", colon[2] ?? "0", colon[3] ?? "0"].map(Number)
    if (hours === undefined || minutes === undefined || rest === undefined || rest >= 60)
      return null
    return positive(3600 * hours + 60 * minutes + rest)
  }
  const number = /^(\d[\d.,\u00a0\u202f ]*?)\s*(s|sec|min|m|h)?$/i.exec(text.trim())
  const amount = number?.[1] ? readNumber(number[1]) : null
  if (!number || amount === null) return null
  const unit = (number[2] ?? "s").toLowerCase()
  const scale = unit === "h" ? 3600 : unit.startsWith("m") ? 60 : 1
  return positive(amount * scale)
}

function positive(seconds: number): number | null {
  return seconds > 0 && seconds <= 1e7 ? seconds : null
}

import { afterEach, describe, expect, it, vi } from "vitest"

/** The modules as a browser in some language has them. */
async function as(language: string) {
  vi.resetModules()
  vi.spyOn(navigator, "language", "get").mockReturnValue(language)
  const format = await import("../src/theme/format")
  const { readLength } = await import("../src/theme/readLength")
  const { markWords, readMark } = await import("../src/lanes/marks")
  return { ...format, readLength, markWords, readMark }
}

afterEach(() => {
  vi.restoreAllMocks()
  // Nobody else has the modules of another language.
  vi.resetModules()
})

describe.each([
  ["de-DE", "1.234,5", "1.234"],
  ["en-GB", "1,234.5", "1,234"],
  ["fr-FR", "1\u202f234,5", "1\u202f234"],
])("in %s", (language, decimal, whole) => {
  it("numbers are read as they are written there", async () => {
    const { readNumber, readWhole } = await as(language)
    expect(readNumber(decimal)).toBe(1234.5)
    expect(readWhole(whole)).toBe(1234)
    expect(readWhole("1234")).toBe(1234)
    expect([readWhole("12.5"), readWhole("12,5"), readWhole(""), readWhole("-3")]).toEqual([
      null,
      null,
      null,
      null,
    ])
  })

  it("readings and lengths are, too, and are said so", async () => {
    const { markWords, readMark, readLength, localised } = await as(language)
    expect(readMark(`${localised("71.5")} °C`)).toEqual({ temperature_c: 71.5 })
    expect(readMark(`file ${decimal} MB`)).toEqual({ file_gb: 1.2345 })
    expect(markWords({ power_w: 182.5 })).toBe(`${localised("182.5")} W`)
    expect(markWords({ fraction: 0.355 })).toBe(`${localised("35.5")} %`)
    expect(readLength(`${localised("12.5")} min`)).toBe(750)
    expect(readLength(`${decimal} s`)).toBe(1234.5)
  })

  it("what may be two numbers is none", async () => {
    const { readNumber, readMark } = await as(language)
    const either = language === "de-DE" ? "1.500" : "1,500"
    if (language === "fr-FR") expect(readNumber("1,500")).toBe(1.5)
    else {
      expect(readNumber(either)).toBeNull()
      expect(readMark(`file ${either} MB`)).toBeNull()
    }
  })
})

/** Pixels in a rem while a reader has set nothing. */
const USUAL = 16

/** A length that grows with the reader's type, of pixels at the usual size. */
export const rem = (pixels: number): string => `${Number((pixels / USUAL).toFixed(4))}rem`

/** How much larger than usual the reader has set the type. */
export function typeScale(): number {
  const size = Number.parseFloat(getComputedStyle(document.documentElement).fontSize)
  return size > 0 ? size / USUAL : 1
}

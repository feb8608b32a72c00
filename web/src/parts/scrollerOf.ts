/** What an element scrolls in, as the page is laid out now. */
export function scrollerOf(element: Element | null): HTMLElement | null {
  for (let each = element?.parentElement ?? null; each; each = each.parentElement) {
    if (["auto", "scroll"].includes(getComputedStyle(each).overflowY)) return each
  }
  return null
}

/**
 * Where the focus goes when what had it is gone: on to what follows, never to the page's body.
 *
 * Whoever works by keys or by ear would stand at the top of the page again after every press
 * that takes its own button away. Nothing has to be told of here: what follows is what stands
 * where the thing stood, the next one first. Only where something else follows (what a form
 * made, what opened a note) is it said, by `focusOn` or a `Place`.
 *
 * Whoever pressed with a pointer is put on the part of the page that the thing was in, and on no
 * button of it: the next key would press that one.
 */

const FOCUSABLE =
  "a[href], button, input, select, textarea, summary, audio[controls], video[controls], [tabindex]"
/** So long may what follows take to appear: it may have to come from the server first. */
const AWAITED_MS = 4000

type Step = { parent: Element; at: number }

/** An element and where it stands, so that its neighbours can be found once it is gone. */
export type Place = { element: HTMLElement; trail: Step[] }

/** The place of an element as it stands now. */
export function placeOf(element: HTMLElement): Place {
  const trail: Step[] = []
  for (let child: Element = element; child.parentElement; child = child.parentElement) {
    trail.push({ parent: child.parentElement, at: indexOf(child) })
    if (child.parentElement === document.body) break
  }
  return { element, trail }
}

const indexOf = (child: Element): number =>
  child.parentElement ? Array.prototype.indexOf.call(child.parentElement.children, child) : 0

/** Whether an element can take the focus now. */
export function canFocus(element: Element): element is HTMLElement {
  return (
    element instanceof HTMLElement &&
    element.isConnected &&
    element.matches(FOCUSABLE) &&
    !element.matches(":disabled") &&
    element.closest("[inert]") === null &&
    (element.checkVisibility?.({ visibilityProperty: true }) ?? true)
  )
}

const inTabOrder = (element: Element): element is HTMLElement =>
  canFocus(element) && element.tabIndex >= 0

/** All in an element that Tab reaches, itself first. */
function reachable(within: Element): HTMLElement[] {
  return [within, ...within.querySelectorAll(FOCUSABLE)].filter(inTabOrder)
}

/** What stands where a place was: the next thing, else the one before, ever further out. */
export function nearest({ trail }: Place): HTMLElement | null {
  for (const { parent, at } of trail) {
    if (!parent.isConnected || parent === document.body) continue
    const children = [...parent.children]
    for (const child of children.slice(at)) {
      const first = reachable(child)[0]
      if (first) return first
    }
    for (const child of children.slice(0, at).reverse()) {
      const last = reachable(child).at(-1)
      if (last) return last
    }
    // Out of a stage one goes to its heading, not to what stands beside it.
    if (parent.matches("main, [role=dialog], dialog")) break
  }
  return heading()
}

const PART = "section[aria-label], section[aria-labelledby], form[aria-label], aside"

/** The named part of the page that a place was in; else the heading of the stage. */
function part({ trail }: Place): HTMLElement | null {
  const found = trail.find(({ parent }) => parent.isConnected && parent.matches(PART))?.parent
  return found instanceof HTMLElement && found.checkVisibility?.() !== false ? found : heading()
}

/** The heading of a stage. */
export function heading(): HTMLElement | null {
  const found = document.querySelector("main h1, h1")
  return found instanceof HTMLElement ? found : null
}

/** The first thing in an element that Tab reaches. */
export const firstIn = (within: Element): HTMLElement | null => reachable(within)[0] ?? null

function give(element: HTMLElement | null): boolean {
  if (element === null) return false
  // A heading is no stop of Tab, and yet it can be told where one is.
  if (!element.matches(FOCUSABLE)) element.tabIndex = -1
  element.focus({ preventScroll: byPointer })
  return document.activeElement === element
}

/** Gives the focus back to a place, or to what stands there now. */
export function goTo(place: Place): void {
  if (canFocus(place.element)) give(place.element)
  else give(byPointer ? part(place) : nearest(place))
}

/** Puts the focus from a field on its part of the page, where letters are keys again. */
export function leaveField(field: HTMLElement): void {
  own = true
  if (!give(part(placeOf(field)))) field.blur()
  own = false
}

/** The same from a button that was pressed with a pointer: by keys one goes on from it. */
export function leavePressed(button: HTMLElement): void {
  if (byPointer) leaveField(button)
}

/** Where the focus was before it came to where it is. */
export const placeBefore = (): Place | null => before

const isNowhere = (): boolean =>
  document.activeElement === null || document.activeElement === document.body

/** Where the focus was last; null while nobody has it by intent. */
let last: Place | null = null
let before: Place | null = null
/** Whether the last thing that a person did was done with a pointer. */
let byPointer = false
/** What shall have the focus as soon as it is there. */
let awaited: { find: () => Element | null; until: number; from: Element | null } | null = null

/**
 * Puts the focus on what is on its way, as soon as it is there. Whoever moves on by then is
 * left alone.
 */
export function focusOn(find: () => Element | null): void {
  awaited = { find, until: performance.now() + AWAITED_MS, from: document.activeElement }
  look()
}

/** The focus as it is put by this module is no move of the person's. */
let own = false

function put(element: HTMLElement | null): boolean {
  own = true
  const took = give(element)
  own = false
  return took
}

function look(): void {
  if (awaited !== null) {
    const found = performance.now() < awaited.until ? awaited.find() : null
    if (found instanceof HTMLElement && found.isConnected) {
      awaited = null
      put(found)
      return
    }
    if (performance.now() >= awaited.until) awaited = null
  }
  if (!isNowhere() || last === null) return
  // Busy for a moment: it is not gone, and has the focus back when it is ready again.
  if (last.element.isConnected && last.element.matches(":disabled")) return
  // A stage whose data came is drawn anew: who was at its heading is at its heading.
  const anew = last.element.matches("h1") && !last.element.isConnected ? heading() : null
  if (anew) put(anew)
  else if (canFocus(last.element)) put(last.element)
  else if (put(byPointer ? part(last) : nearest(last)) && awaited)
    awaited.from = document.activeElement
}

function focused(event: FocusEvent): void {
  if (!(event.target instanceof HTMLElement)) return
  if (!own && awaited && event.target !== awaited.from) awaited = null
  before = last
  last = placeOf(event.target)
}

function keyed(event: KeyboardEvent): void {
  if (event.key.length > 1 || event.key === " ") byPointer = false
}

function pressed(event: PointerEvent): void {
  awaited = null
  byPointer = true
  // Some browsers give a pressed button no focus; what follows on it is found all the same.
  const target = event.target instanceof Element ? event.target.closest(FOCUSABLE) : null
  last = target instanceof HTMLElement ? placeOf(target) : null
}

/** Watches over the focus of the page; gives what ends that. */
export function keepFocus(): () => void {
  let waiting = false
  const later = () => {
    if (waiting) return
    waiting = true
    // After what changes in one go, and after the page's own hands have put the focus.
    requestAnimationFrame(() => {
      waiting = false
      look()
    })
  }
  const changes = new MutationObserver(later)
  changes.observe(document.body, {
    childList: true,
    subtree: true,
    attributes: true,
    attributeFilter: ["disabled", "hidden", "inert", "open", "class"],
  })
  document.addEventListener("focusin", focused)
  document.addEventListener("pointerdown", pressed, true)
  document.addEventListener("keydown", keyed, true)
  return () => {
    changes.disconnect()
    document.removeEventListener("focusin", focused)
    document.removeEventListener("pointerdown", pressed, true)
    document.removeEventListener("keydown", keyed, true)
    last = null
    awaited = null
  }
}

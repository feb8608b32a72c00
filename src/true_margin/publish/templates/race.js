/* The race of a bench as it runs: asked for twice a second, its clocks drawn at every frame. */
"use strict"
;(() => {
  const list = document.getElementById("race")
  const note = document.getElementById("note")
  const most = Number(list.dataset.most)
  const EVERY_MS = 500
  let race = { lanes: [], now_ms: 0 }
  let ahead = 0
  let shortest = Infinity

  /** Seconds as m:ss.t, or h:mm:ss from an hour on. */
  const clock = (seconds, tenths) => {
    const whole = Math.floor(seconds)
    const two = (value) => String(value).padStart(2, "0")
    if (whole >= 3600) {
      return `${Math.floor(whole / 3600)}:${two(Math.floor(whole / 60) % 60)}:${two(whole % 60)}`
    }
    const rest = tenths ? `.${Math.floor(10 * (seconds - whole))}` : ""
    return `${Math.floor(whole / 60)}:${two(whole % 60)}${rest}`
  }

  const elapsed = (lane) =>
    lane.elapsed_s !== null
      ? lane.elapsed_s
      : Math.max(0, ((performance.now() + ahead - lane.started_ms) / 1000) * lane.factor)

  /** What is known to be done: up to the last mark, all of it at the end. */
  const part = (lane) =>
    lane.elapsed_s !== null ? 1 : (lane.marks[lane.marks.length - 1] || [0, 0])[1]

  const make = (name, kind) => {
    const element = document.createElement(name)
    element.className = kind
    return element
  }

  const row = (lane) => {
    const item = document.createElement("li")
    const who = make("span", "who")
    const mark = document.createElementNS("http://www.w3.org/2000/svg", "svg")
    mark.setAttribute("viewBox", "0 0 16 16")
    mark.setAttribute("aria-hidden", "true")
    const shape = document.createElementNS("http://www.w3.org/2000/svg", "path")
    shape.setAttribute("d", lane.shape)
    shape.setAttribute("fill", `var(--mark-${lane.mark})`)
    mark.append(shape)
    const name = document.createElement("span")
    name.textContent = lane.label
    who.append(mark, name)
    const track = make("div", "track")
    track.append(make("div", "part"))
    item.append(who, make("span", "time"), track)
    return item
  }

  const draw = () => {
    const lanes = race.lanes.slice(0, most)
    const names = lanes.map((lane) => `${lane.label}/${lane.mark}`).join("|")
    if (list.dataset.names !== names) {
      list.dataset.names = names
      list.replaceChildren(...lanes.map(row))
    }
    const ends = lanes.filter((lane) => lane.elapsed_s !== null).map((lane) => lane.elapsed_s)
    const first = ends.length > 0 ? Math.min(...ends) : null
    lanes.forEach((lane, at) => {
      const item = list.children[at]
      const armed = lane.phase === "armed"
      item.className = first !== null && lane.elapsed_s === first ? "first" : ""
      item.querySelector(".time").textContent = armed ? "ready" : clock(elapsed(lane), true)
      item.querySelector(".part").style.width = `${100 * part(lane)}%`
    })
    note.hidden = lanes.length > 0
    requestAnimationFrame(draw)
  }

  const ask = async () => {
    const asked = performance.now()
    try {
      const answer = await fetch(list.dataset.from, { cache: "no-store" })
      if (answer.status === 404) {
        race = { lanes: [], now_ms: 0 }
        note.textContent = "This link was turned off."
        return
      }
      if (answer.ok) {
        const told = await answer.json()
        const trip = performance.now() - asked
        // The answer that was fastest tells the clock best.
        if (trip <= shortest + 5) {
          shortest = Math.min(shortest, trip)
          ahead = told.now_ms - (asked + trip / 2)
        }
        race = told
      }
    } catch {
      // Away for a moment: the clocks run on.
    }
    setTimeout(ask, EVERY_MS)
  }

  void ask()
  draw()
})()

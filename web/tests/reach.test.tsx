import { act, render, screen, waitFor } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { useState } from "react"
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest"
import type { Schemas } from "../src/api/client"
import { ActButton } from "../src/parts/ActButton"
import { TextField } from "../src/parts/Field"
import { SideNote } from "../src/parts/SideNote"
import { Announcer } from "../src/reach/Announcer"
import { announce } from "../src/reach/announce"
import { focusOn, keepFocus } from "../src/reach/focus"
import { useTakesFocus } from "../src/reach/useTakesFocus"
import { changedResults } from "../src/stages/margins/useChangedResults"

let end = () => {}
beforeEach(() => {
  end = keepFocus()
})
afterEach(() => end())

const focused = () => document.activeElement?.textContent

/** Things of which each can be taken away, under a heading. */
function Things({ names }: { names: string[] }) {
  const [left, setLeft] = useState(names)
  return (
    <main>
      <h1>Things</h1>
      <ul>
        {left.map((name) => (
          <li key={name}>
            <button type="button" onClick={() => setLeft(left.filter((each) => each !== name))}>
              {name}
            </button>
          </li>
        ))}
      </ul>
    </main>
  )
}

describe("the focus", () => {
  it.each([
    ["the next where an item is taken away", "b", "c"],
    ["the one before where it was the last", "c", "b"],
  ])("goes on to %s", async (_, taken, follows) => {
    render(<Things names={["a", "b", "c"]} />)
    screen.getByRole("button", { name: taken }).focus()
    await userEvent.keyboard("{Enter}")
    await waitFor(() => expect(focused()).toBe(follows))
  })

  it("goes to its part of the page, and to no button, where a pointer took it away", async () => {
    render(
      <section aria-label="Part">
        <Things names={["a", "b"]} />
      </section>,
    )
    await userEvent.click(screen.getByRole("button", { name: "a" }))
    await waitFor(() => expect(document.activeElement?.getAttribute("aria-label")).toBe("Part"))
  })

  it("goes to the heading where nothing is left", async () => {
    render(<Things names={["a"]} />)
    await userEvent.click(screen.getByRole("button", { name: "a" }))
    await waitFor(() => expect(focused()).toBe("Things"))
  })

  it("stays at the heading of what is drawn anew once its data came", async () => {
    const stage = (loaded: boolean) => (
      <main>
        <div key={`${loaded}`}>
          <h1>{loaded ? "Picks, loaded" : "Picks"}</h1>
          {loaded && (
            <select aria-label="Viewer">
              <option>Filmer</option>
            </select>
          )}
        </div>
      </main>
    )
    const { rerender } = render(stage(false))
    await userEvent.keyboard("{Enter}")
    focusOn(() => document.querySelector("h1"))
    expect(focused()).toBe("Picks")
    rerender(stage(true))
    await waitFor(() => expect(focused()).toBe("Picks, loaded"))
  })

  it("goes on to what stands where the pressed thing stood", async () => {
    function Timer() {
      const [runs, setRuns] = useState(false)
      return (
        <section>
          <p>
            {runs ? (
              <button type="button" key="stop">
                Stop
              </button>
            ) : (
              <button type="button" key="start" onClick={() => setRuns(true)}>
                Start
              </button>
            )}
          </p>
          <button type="button">Other</button>
        </section>
      )
    }
    render(<Timer />)
    screen.getByRole("button", { name: "Start" }).focus()
    await userEvent.keyboard("{Enter}")
    await waitFor(() => expect(focused()).toBe("Stop"))
  })

  it("stays nowhere for whoever left it by a click beside everything", async () => {
    render(<Things names={["a", "b"]} />)
    screen.getByRole("button", { name: "a" }).focus()
    await userEvent.click(screen.getByRole("list"))
    ;(document.activeElement as HTMLElement).blur()
    act(() => document.querySelector("ul")?.append("more"))
    await new Promise((done) => requestAnimationFrame(done))
    expect(document.activeElement).toBe(document.body)
  })

  it("comes to what is on its way once it is there, but not to whoever moved on", async () => {
    const { rerender } = render(<Things key="1" names={["a", "b"]} />)
    screen.getByRole("button", { name: "a" }).focus()
    const late = () => document.querySelector("[data-late]")
    focusOn(late)
    rerender(
      <>
        <Things key="1" names={["a", "b"]} />
        <button type="button" data-late="">
          Late
        </button>
      </>,
    )
    await waitFor(() => expect(focused()).toBe("Late"))
    focusOn(() => document.querySelector("[data-later]"))
    screen.getByRole("button", { name: "b" }).focus()
    rerender(
      <>
        <Things key="1" names={["a", "b"]} />
        <button type="button" data-later="">
          Later
        </button>
      </>,
    )
    await new Promise((done) => requestAnimationFrame(done))
    expect(focused()).toBe("b")
  })
})

describe("a note", () => {
  function Stage() {
    const [open, setOpen] = useState<string | null>(null)
    return (
      <main>
        <h1>Stage</h1>
        {["one", "two"].map((name) => (
          <button key={name} type="button" onClick={() => setOpen(name)}>
            {name}
          </button>
        ))}
        {open && (
          <SideNote title="Note" name={open} about={open} onClose={() => setOpen(null)}>
            inside
          </SideNote>
        )}
      </main>
    )
  }

  it.each(["{Escape}", "close"])("takes the focus and gives it back: %s", async (way) => {
    render(<Stage />)
    await userEvent.click(screen.getByRole("button", { name: "two" }))
    expect(focused()).toBe("Note: two")
    if (way === "close") await userEvent.click(screen.getByRole("button", { name: "Close" }))
    else await userEvent.keyboard(way)
    await waitFor(() => expect(focused()).toBe("two"))
  })

  it("is another one where it tells of another thing", async () => {
    render(<Stage />)
    await userEvent.click(screen.getByRole("button", { name: "one" }))
    await userEvent.click(screen.getByRole("button", { name: "two" }))
    expect(focused()).toBe("Note: two")
    await userEvent.keyboard("{Escape}")
    await waitFor(() => expect(focused()).toBe("two"))
  })
})

describe("a greyed button", () => {
  it("says why, does nothing, and keeps the focus", async () => {
    const done = vi.fn((event: { preventDefault: () => void }) => event.preventDefault())
    function Form() {
      const [name, setName] = useState("")
      return (
        <form onSubmit={done}>
          <input aria-label="Name" value={name} onChange={(event) => setName(event.target.value)} />
          <ActButton type="submit" needs={!name && "Needs a name."}>
            Add
          </ActButton>
        </form>
      )
    }
    render(<Form />)
    const button = screen.getByRole("button", { name: "Add" })
    expect(button.getAttribute("aria-describedby")).toBe(screen.getByText("Needs a name.").id)
    await userEvent.type(screen.getByLabelText("Name"), "{Enter}")
    await userEvent.click(button)
    expect(done).not.toHaveBeenCalled()
    expect(screen.getByText("Needs a name.").className).not.toContain("sr-only")
    expect(document.activeElement).toBe(button)
    await userEvent.type(screen.getByLabelText("Name"), "Halyard{Enter}")
    expect(done).toHaveBeenCalledTimes(1)
    expect(screen.queryByText("Needs a name.")).toBeNull()
  })

  it("takes no second press while the first is on its way", async () => {
    const press = vi.fn()
    render(
      <ActButton busy onClick={press}>
        Save
      </ActButton>,
    )
    await userEvent.click(screen.getByRole("button"))
    expect(press).not.toHaveBeenCalled()
  })
})

describe("what is wrong with a field", () => {
  function Weight() {
    const [text, setText] = useState("")
    const bad = text !== "" && !/^\d+ kg$/.test(text)
    return (
      <TextField label="Weight" value={text} onText={setText} error={bad ? "Type kg." : null} />
    )
  }

  it("is told on leaving it and on Enter, not of half a value", async () => {
    render(<Weight />)
    const field = screen.getByLabelText("Weight")
    await userEvent.type(field, "12")
    expect(screen.queryByRole("alert")).toBeNull()
    await userEvent.keyboard("{Enter}")
    expect(screen.getByRole("alert").textContent).toBe("Type kg.")
    expect(field.getAttribute("aria-describedby")).toBe(screen.getByRole("alert").id)
    await userEvent.type(field, " k")
    expect(screen.queryByRole("alert")).toBeNull()
    await userEvent.tab()
    expect(await screen.findByRole("alert")).toBeTruthy()
    await userEvent.type(field, "g")
    expect(screen.queryByRole("alert")).toBeNull()
    expect(field.getAttribute("aria-invalid")).toBeNull()
  })
})

describe("what opens elsewhere than its button", () => {
  it("has the focus in its first field", async () => {
    function Opened() {
      const form = useTakesFocus<HTMLFormElement>()
      return (
        <form ref={form} aria-label="Opened">
          <input aria-label="First" />
        </form>
      )
    }
    render(<Opened />)
    await waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText("First")))
  })
})

describe("what changed in a ranking", () => {
  const row = (setup_id: string, call: string) => ({ setup_id, call, label: setup_id })
  const view = (baseline: string, ...rows: object[]) =>
    ({ key: "t", baseline, rows }) as unknown as Schemas["LadderView"]

  it.each([
    ["nothing", view("A", row("B", "clear")), []],
    ["a result", view("A", row("B", "level")), ["B: same speed"]],
    ["not what became the baseline", view("B", row("B", "baseline")), []],
    ["not what is new", view("A", row("C", "clear")), []],
  ])("is told by name: %s", (_, now, changed) => {
    expect(changedResults(view("A", row("B", "clear")), now)).toEqual(changed)
  })
})

describe("what is said", () => {
  it("is said once, in its turn, and does not stay", () => {
    vi.useFakeTimers()
    try {
      render(<Announcer />)
      act(() => {
        vi.advanceTimersByTime(20_000)
        announce("Timer 1 ended: 6:17.2.")
        announce("Timer 1 ended: 6:17.2.")
        announce("")
        announce("2 results changed.")
      })
      const said = () => screen.getByRole("status").textContent ?? ""
      expect(said().endsWith("Timer 1 ended: 6:17.2.2 results changed.")).toBe(true)
      expect(said().match(/Timer 1/g)).toHaveLength(1)
      act(() => vi.advanceTimersByTime(20_000))
      expect(said()).not.toContain("Timer 1")
    } finally {
      vi.useRealTimers()
    }
  })
})

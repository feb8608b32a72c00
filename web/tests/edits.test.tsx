import { act, fireEvent, render, screen, waitFor } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { useState } from "react"
import { beforeEach, describe, expect, it } from "vitest"
import { ProblemError } from "../src/api/client"
import { EditCell } from "../src/parts/EditCell"
import { forgetVersions, sendEdit } from "../src/parts/editQueue"
import { useSentText } from "../src/parts/useSentText"

const pause = (ms: number) => new Promise((done) => setTimeout(done, ms))

/** A number from 0 to 1, the same for the same seed (mulberry32). */
function chance(seed: number): () => number {
  let state = seed
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let t = Math.imul(state ^ (state >>> 15), 1 | state)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
}

type Thing = { id: string; version: number; cells: string[] }

let made = 0

/** Things with versions, as the server keeps them: a change on an old version is refused. */
class Shelf {
  things: Thing[]
  refused = 0
  constructor(
    count: number,
    cells: number,
    private readonly delay: () => number,
  ) {
    made += 1
    this.things = Array.from({ length: count }, (_, at) => ({
      // Of its own for each shelf: what another test left on its way is about other things.
      id: `${made}: thing ${at}`,
      version: 1,
      cells: Array.from({ length: cells }, (_, cell) => `${at}.${cell}`),
    }))
  }
  async change(id: string, version: number, cell: number, text: string): Promise<Thing> {
    await pause(this.delay())
    const thing = this.things.find((each) => each.id === id) as Thing
    if (version !== thing.version) {
      this.refused += 1
      const problem = { type: "", title: "", status: 409, detail: "Changed." }
      throw new ProblemError({ ...problem, current: { ...thing } })
    }
    thing.version += 1
    thing.cells[cell] = text
    await pause(this.delay())
    return { ...thing, cells: [...thing.cells] }
  }
}

/** A sheet of all cells, which hears of what is stored a moment later. */
function Sheet({ shelf, delay }: { shelf: Shelf; delay: () => number }) {
  const [things, setThings] = useState(() => structuredClone(shelf.things))
  const heard = async () => {
    await pause(delay())
    act(() => setThings(structuredClone(shelf.things)))
  }
  return things.flatMap((thing) =>
    thing.cells.map((text, cell) => (
      <EditCell
        // biome-ignore lint/suspicious/noArrayIndexKey: a cell is its place
        key={`${thing.id} ${cell}`}
        label={`${thing.id} cell ${cell}`}
        shown={text}
        text={text}
        onSave={async (typed) => {
          await sendEdit(thing.id, thing.version, (version) =>
            shelf.change(thing.id, version, cell, typed),
          )
          void heard()
          return { saved: true }
        }}
        theirs={(problem) => String((problem.current as unknown as Thing).cells[cell])}
      />
    )),
  )
}

beforeEach(forgetVersions)

describe("edits in quick succession", () => {
  it("go out one after the other, each on the version that the one before made", async () => {
    const versions: number[] = []
    let now = 4
    const send = (version: number) => {
      versions.push(version)
      return pause(5).then(() => ({ id: "a", version: ++now }))
    }
    await Promise.all([1, 2, 3].map(() => sendEdit("a", 4, send)))
    expect(versions).toEqual([4, 5, 6])
  })
  it("go on after one that was refused, on the version that stands", async () => {
    const problem = { type: "", title: "", status: 409, detail: "", current: { version: 9 } }
    const refused = sendEdit("a", 1, () => Promise.reject(new ProblemError(problem)))
    await expect(refused).rejects.toThrow()
    await sendEdit("a", 1, (version) => {
      expect(version).toBe(9)
      return Promise.resolve({ id: "a", version: 10, setups: [{ id: "b", version: 3 }] })
    })
    await sendEdit("b", 1, (version) => {
      expect(version).toBe(3)
      return Promise.resolve({ id: "b", version: 4 })
    })
  })
  it("never take the focus from a cell that is typed in", async () => {
    const shelf = new Shelf(1, 2, () => 20)
    render(<Sheet shelf={shelf} delay={() => 5} />)
    await userEvent.click(screen.getByRole("button", { name: /cell 0/ }))
    await userEvent.keyboard("one{Enter}")
    await userEvent.click(screen.getByRole("button", { name: /cell 1/ }))
    await userEvent.keyboard("tw")
    await waitFor(() => expect(shelf.things[0]?.cells[0]).toBe("one"))
    await act(() => pause(60))
    await userEvent.keyboard("o{Enter}")
    await waitFor(() => expect(shelf.things[0]?.cells).toEqual(["one", "two"]))
    expect(shelf.refused).toBe(0)
  })
  it("of one cell end with what was typed last, though the first is still on its way", async () => {
    const shelf = new Shelf(1, 1, () => 25)
    render(<Sheet shelf={shelf} delay={() => 5} />)
    for (const text of ["first", "second", "third"]) {
      await userEvent.click(screen.getByRole("button", { name: /cell 0/ }))
      await userEvent.keyboard(`${text}{Enter}`)
    }
    await waitFor(() => expect(shelf.things[0]?.cells).toEqual(["third"]))
    await waitFor(() => expect(screen.getByRole("button").textContent).toBe("third"))
    expect([shelf.refused, screen.queryByRole("alert")]).toEqual([0, null])
  })
  it.each([1, 2, 3, 4])("at random speeds lose and misplace nothing (seed %i)", async (seed) => {
    const random = chance(seed)
    const user = userEvent.setup({ delay: null })
    const shelf = new Shelf(2, 3, () => 15 * random())
    render(<Sheet shelf={shelf} delay={() => 15 * random()} />)
    const wanted = shelf.things.map((thing) => [...thing.cells])
    for (let edit = 0; edit < 10; edit++) {
      const at = Math.floor(2 * random())
      const cell = Math.floor(3 * random())
      const text = `${edit} of ${at}.${cell}`
      await user.click(screen.getByRole("button", { name: new RegExp(`thing ${at} cell ${cell}`) }))
      for (const sign of text) {
        await user.keyboard(sign)
        // From no time at all to that of a person who types with ten fingers.
        if (random() < 0.5) await act(() => pause(50 * random() ** 3))
      }
      await user.keyboard(random() < 0.6 ? "{Enter}" : "{Tab}")
      ;(wanted[at] as string[])[cell] = text
    }
    await waitFor(() => expect(shelf.things.map((thing) => thing.cells)).toEqual(wanted), {
      timeout: 5000,
    })
    expect([shelf.refused, screen.queryByRole("alert")]).toEqual([0, null])
  })
})

function Line({ send }: { send: (text: string) => Promise<void> }) {
  const { text, setText, sent } = useSentText()
  const submit = () => {
    const { onError } = sent()
    send(text).catch(onError)
  }
  return (
    <>
      <input value={text} onChange={(event) => setText(event.target.value)} />
      <button type="button" onClick={submit}>
        Send
      </button>
    </>
  )
}

/** A cell whose server writes "16" for "16 gb", and tells so a moment later. */
function Normalised() {
  const [text, setText] = useState("8")
  return (
    <EditCell
      label="Memory"
      shown={text}
      text={text}
      onSave={async (typed) => {
        await pause(20)
        const stored = typed.replace(/ ?gb$/, "")
        if (Number.isNaN(Number(stored))) return { saved: false, reason: "not a number" }
        setTimeout(() => act(() => setText(stored)), 30)
        return { saved: true }
      }}
      theirs={() => ""}
    />
  )
}

describe("a text that the server writes otherwise", () => {
  it("is nobody else's change, however soon the cell is edited again", async () => {
    render(<Normalised />)
    for (const typed of ["16 gb", "32 gb", "64 gb"]) {
      await userEvent.click(screen.getByRole("button", { name: /Memory/ }))
      await act(() => pause(70))
      await userEvent.keyboard(`{Control>}a{/Control}${typed}{Enter}`)
      expect(screen.queryByText(/Changed elsewhere/)).toBeNull()
    }
    await waitFor(() => expect(screen.getByRole("button").textContent).toBe("64"))
  })
  it("does not take the place of what is typed when it is refused late", async () => {
    render(<Normalised />)
    await userEvent.click(screen.getByRole("button", { name: /Memory/ }))
    await userEvent.keyboard("warm{Enter}")
    fireEvent.click(screen.getByRole("button", { name: /Memory/ }))
    fireEvent.change(screen.getByRole("textbox"), { target: { value: "26" } })
    await screen.findByRole("alert")
    expect(screen.getByRole<HTMLInputElement>("textbox").value).toBe("26")
  })
})

describe("a text that is refused", () => {
  const refusing = (count: { refused: number }, answered = () => pause(20)) => (
    <>
      <EditCell
        label="Room"
        shown="20"
        text="20"
        onSave={async (typed) => {
          await answered()
          if (!/^\d/.test(typed)) {
            count.refused += 1
            return { saved: false, reason: "not a number" }
          }
          return { saved: true }
        }}
        theirs={() => ""}
      />
      <input aria-label="elsewhere" />
    </>
  )
  it("is given back to go on with, by the keyboard alone", async () => {
    const count = { refused: 0 }
    render(refusing(count))
    await userEvent.click(screen.getByRole("button", { name: /Room/ }))
    await userEvent.keyboard("warm{Enter}")
    await screen.findByRole("alert")
    await userEvent.keyboard("{Enter}")
    await waitFor(() => expect(count.refused).toBe(2))
    await screen.findByRole("alert")
    await userEvent.keyboard("{Control>}a{/Control}26{Enter}")
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull())
    expect(screen.getByRole("button").textContent).toBe("26")
  })
  it("takes the focus from nobody who types elsewhere by then", async () => {
    let answer = () => {}
    const answered = new Promise<void>((resolve) => {
      answer = resolve
    })
    render(refusing({ refused: 0 }, () => answered))
    await userEvent.click(screen.getByRole("button", { name: /Room/ }))
    await userEvent.keyboard("warm{Enter}")
    await userEvent.click(screen.getByLabelText("elsewhere"))
    await userEvent.keyboard("a")
    answer()
    await screen.findByRole("alert")
    await userEvent.keyboard("b")
    expect(screen.getByLabelText<HTMLInputElement>("elsewhere").value).toBe("ab")
  })
})

describe("a version that was believed and is none", () => {
  it("is given up for the one that a conflict names", async () => {
    await sendEdit("c", 1, () => Promise.resolve({ id: "c", version: 40 }))
    const problem = { type: "", title: "", status: 409, detail: "", current: { version: 3 } }
    await expect(
      sendEdit("c", 1, () => Promise.reject(new ProblemError(problem))),
    ).rejects.toThrow()
    await sendEdit("c", 2, (version) => {
      expect(version).toBe(3)
      return Promise.resolve({ id: "c", version: 4 })
    })
  })
})

describe("a line that is sent", () => {
  const field = () => screen.getByRole<HTMLInputElement>("textbox")
  it("keeps what is typed while the last one is on its way", async () => {
    let done: () => void = () => undefined
    render(<Line send={() => new Promise((resolve) => (done = resolve))} />)
    await userEvent.type(field(), "big grey one")
    await userEvent.click(screen.getByRole("button"))
    await userEvent.type(field(), "small")
    await act(async () => done())
    expect(field().value).toBe("small")
  })
  it("comes back where it is refused, unless another was begun", async () => {
    render(<Line send={() => pause(200).then(() => Promise.reject(new Error("no")))} />)
    await userEvent.type(field(), "grey")
    await userEvent.click(screen.getByRole("button"))
    expect(field().value).toBe("")
    await waitFor(() => expect(field().value).toBe("grey"))
    await userEvent.click(screen.getByRole("button"))
    await userEvent.type(field(), "x")
    await act(() => pause(300))
    expect(field().value).toBe("x")
  })
})

import { render, screen, waitFor } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import { describe, expect, it, vi } from "vitest"
import { ProblemError } from "../src/api/client"
import { DotStrip } from "../src/parts/DotStrip"
import { EditCell } from "../src/parts/EditCell"
import { TextField } from "../src/parts/Field"
import { ProblemNote } from "../src/parts/ProblemNote"
import { Reading, Writes } from "../src/parts/Reading"
import { Jaws } from "../src/parts/rule/Jaws"
import { fitScale } from "../src/parts/rule/scale"

const cell = (
  onSave: (text: string) => Promise<{ saved: true } | { saved: false; reason: string }>,
) => (
  <EditCell
    label="Cores of Tarn"
    shown="6"
    text="6"
    unit="cores"
    onSave={onSave}
    theirs={(problem) => String(problem.current?.cores ?? "")}
  />
)
const saves = () => Promise.resolve({ saved: true as const })
const conflict = () => {
  const problem = { type: "", title: "", status: 409, detail: "Changed.", current: { cores: "8" } }
  return Promise.reject(new ProblemError(problem))
}

describe("a cell that is edited in place", () => {
  it("stores on Enter what was typed, and nothing on Esc", async () => {
    const save = vi.fn(saves)
    render(cell(save))
    await userEvent.click(screen.getByRole("button", { name: "Cores of Tarn: 6 cores. Edit" }))
    await userEvent.type(screen.getByRole("textbox"), "12{Escape}")
    expect(save).not.toHaveBeenCalled()
    await userEvent.click(screen.getByRole("button"))
    await userEvent.clear(screen.getByRole("textbox"))
    await userEvent.type(screen.getByRole("textbox"), "12{Enter}")
    expect(save).toHaveBeenCalledWith("12")
  })
  it("says what is wrong and keeps what was typed", async () => {
    render(cell(() => Promise.resolve({ saved: false, reason: "Type a number." })))
    await userEvent.click(screen.getByRole("button"))
    await userEvent.type(screen.getByRole("textbox"), "six{Enter}")
    expect((await screen.findByRole("alert")).textContent).toBe("Type a number.")
    expect((screen.getByRole("textbox") as HTMLInputElement).value).toContain("six")
  })
  it("shows both values where somebody else was first, and keeps the one that is chosen", async () => {
    const save = vi.fn(conflict as () => Promise<{ saved: true }>)
    render(cell(save))
    await userEvent.click(screen.getByRole("button"))
    await userEvent.clear(screen.getByRole("textbox"))
    await userEvent.type(screen.getByRole("textbox"), "12{Enter}")
    expect(await screen.findByRole("button", { name: "Yours: 12" })).toBeTruthy()
    expect(screen.getByRole("button", { name: "Theirs: 8" })).toBeTruthy()
    save.mockImplementation(saves)
    await userEvent.click(screen.getByRole("button", { name: "Yours: 12" }))
    await waitFor(() => expect(screen.queryByRole("alert")).toBeNull())
    expect(save).toHaveBeenLastCalledWith("12")
  })
  it("is only read by whoever only reads", () => {
    render(
      <Reading.Provider value={true}>
        {cell(saves)}
        <Writes>
          <button type="button">Add</button>
        </Writes>
      </Reading.Provider>,
    )
    expect(screen.queryByRole("button")).toBeNull()
    expect(screen.getByText("6")).toBeTruthy()
  })
})

describe("a problem", () => {
  it("is said, with the way back in where somebody is signed out", () => {
    const problem = { type: "/problems/not-signed-in", title: "", status: 401, detail: "Sign in." }
    render(<ProblemNote error={new ProblemError(problem)} />)
    expect(screen.getByRole("alert").textContent).toContain("Sign in.")
    expect(screen.getByRole("link").getAttribute("href")).toBe("/sign-in?next=%2F")
  })
  it("that there is none of shows nothing", () => {
    const { container } = render(<ProblemNote error={null} />)
    expect(container.innerHTML).toBe("")
  })
  it("of a field is tied to it", () => {
    render(<TextField label="Name" value="" onText={vi.fn()} error="A name is needed." />)
    const field = screen.getByRole("textbox", { name: "Name" })
    expect(field.getAttribute("aria-invalid")).toBe("true")
    const note = document.getElementById(field.getAttribute("aria-describedby") ?? "")
    expect(note?.textContent).toBe("A name is needed.")
  })
})

describe("drawings", () => {
  it("of an interval say in words what they show", () => {
    const scale = fitScale([0.9, 1.2])
    const more = { scale, lo: 1.02, hi: 1.1, estimate: 1.06, call: "ahead", materiality: 0.03 }
    render(<Jaws {...more} label="B 1.06 times as fast" />)
    expect(screen.getByRole("img", { name: "B 1.06 times as fast" })).toBeTruthy()
  })
  it("of runs ring flagged ones, cross failed ones and hollow void ones", () => {
    const dots = [
      { id: "1", value: 100, status: "ok", flagged: false },
      { id: "2", value: 120, status: "ok", flagged: true },
      { id: "3", value: null, status: "failed", flagged: false },
      { id: "4", value: 5, status: "void", flagged: false },
    ]
    const { container } = render(<DotStrip dots={dots} lo={90} hi={130} index={0} />)
    expect(container.querySelectorAll("circle")).toHaveLength(3)
    expect(container.querySelectorAll('path[stroke="var(--color-accent)"]')).toHaveLength(1)
    // A value far outside stands at the edge.
    expect(container.querySelectorAll('circle[cx="0.00%"]')).toHaveLength(1)
  })
})

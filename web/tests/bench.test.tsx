import { QueryClientProvider } from "@tanstack/react-query"
import { act, fireEvent, render, renderHook, screen, waitFor } from "@testing-library/react"
import type { ReactNode } from "react"
import { describe, expect, it, vi } from "vitest"
import { queryClient } from "../src/api/queries"
import type { Bench } from "../src/lanes/bench"
import type { NumberedLane } from "../src/lanes/desk"
import { now } from "../src/lanes/lane"
import { Reading } from "../src/parts/Reading"
import { useKeys } from "../src/parts/useKeys"
import { useAxisEnd } from "../src/stages/bench/axis"
import { LaneView } from "../src/stages/bench/LaneView"
import { refusal, serve, show } from "./helpers"

const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={queryClient}>{children}</QueryClientProvider>
)

function lane(more: Partial<NumberedLane> = {}): NumberedLane {
  return {
    number: 1,
    id: "lane-1",
    setupId: "s",
    taskId: "t",
    queue: [],
    phase: "armed",
    startedAt: 0,
    stoppedAt: 0,
    pressedAt: 0,
    key: "key-1",
    redo: null,
    undone: 0,
    startedBy: "",
    startU: 0,
    elapsedS: null,
    placedU: 0,
    timedBy: "hand",
    factor: 1,
    conditions: {},
    stamp: null,
    marks: [],
    ...more,
  } as NumberedLane
}

const SETUP = { id: "s", label: "Halyard S", mark: 2 } as never

function view(of: NumberedLane, bench: Partial<Bench> = {}, reading = false) {
  return (
    <Reading.Provider value={reading}>
      <LaneView
        slug="here"
        bench={bench as Bench}
        lane={of}
        setup={SETUP}
        task="Parade"
        next={null}
        selected
        undoable={false}
        redoable={false}
        dense={false}
        form={null}
        best={undefined}
        usual={undefined}
        sharing={[of]}
        onAsk={vi.fn()}
        onFalseStart={vi.fn()}
      />
    </Reading.Provider>
  )
}

describe("a lane", () => {
  it("says whose it is, of which task, and that there is no best yet", () => {
    serve({})
    show(view(lane()))
    expect(screen.getByRole("region", { name: "Timer 1, Halyard S" })).toBeTruthy()
    expect(screen.getByText("Parade")).toBeTruthy()
    expect(screen.getByText(/The first run of this task/)).toBeTruthy()
    expect(screen.getByRole("timer").getAttribute("aria-label")).toContain("armed")
  })
  it("that stands is chosen by its key, one that runs is stopped", () => {
    serve({})
    const bench = { select: vi.fn(), stop: vi.fn() }
    const standing = show(view(lane(), bench))
    fireEvent.click(screen.getByRole("button", { name: "Timer 1" }))
    expect(bench.select).toHaveBeenCalledWith(1)
    standing.unmount()
    show(view(lane({ phase: "running", startedAt: now() - 5000 }), bench))
    fireEvent.click(screen.getByRole("button", { name: "Stop timer 1" }))
    expect(bench.stop).toHaveBeenCalledWith(1, expect.any(Number))
  })
  it("offers nothing to press to whoever only reads", () => {
    serve({})
    show(view(lane(), {}, true))
    const buttons = screen.getAllByRole("button") as HTMLButtonElement[]
    expect(buttons.every((button) => button.disabled)).toBe(true)
  })
  it("that a rig runs says that it is simulated", () => {
    serve({})
    show(view(lane({ phase: "running", timedBy: "rig", factor: 30 })))
    expect(screen.getByText(/Simulated, 30× speed/)).toBeTruthy()
  })
})

describe("the time axis of lanes", () => {
  const running = lane({
    phase: "running",
    marks: [{ elapsed_s: 60, fraction: 0.25 }],
  } as Partial<NumberedLane>)
  it("ends beyond the finish that the server foresees", async () => {
    serve({
      "POST /api/v1/shootouts/here/bench/pace": { projected_s: 300, gap_s: null, slowed: false },
    })
    const { result } = renderHook(() => useAxisEnd("here", [{ lane: running, seconds: 70 }], 100), {
      wrapper,
    })
    expect(result.current).toBe(125)
    await waitFor(() => expect(result.current).toBeCloseTo(315))
  })
  it("needs no answer for a lane without marks, and is never nothing", () => {
    const asked = serve({})
    const { result } = renderHook(
      () => useAxisEnd("here", [{ lane: lane(), seconds: 0 }], undefined),
      {
        wrapper,
      },
    )
    expect(result.current).toBe(1)
    expect(asked).toEqual([])
  })
  it("goes by the clock alone where nobody answers", async () => {
    const asked = serve({ "POST /api/v1/shootouts/here/bench/pace": refusal(422, "No.") })
    const { result } = renderHook(
      () => useAxisEnd("here", [{ lane: running, seconds: 200 }], 100),
      { wrapper },
    )
    await waitFor(() => expect(asked.length).toBe(1))
    expect(result.current).toBe(210)
  })
})

describe("single keys", () => {
  function Keyed({ onKey }: { onKey: (code: string) => boolean }) {
    useKeys((event) => onKey(event.code))
    return (
      <>
        <input aria-label="text" />
        <button type="button">press</button>
      </>
    )
  }
  const press = (target: Element, init: KeyboardEventInit) => fireEvent.keyDown(target, init)
  it("are keys of the page, and letters where somebody types", () => {
    const taken = vi.fn(() => true)
    render(<Keyed onKey={taken} />)
    press(document.body, { code: "KeyA", key: "a" })
    expect(taken).toHaveBeenCalledWith("KeyA")
    press(screen.getByRole("textbox"), { code: "KeyB", key: "b" })
    press(document.body, { code: "KeyK", key: "k", ctrlKey: true })
    expect(taken).toHaveBeenCalledTimes(1)
  })
  it("leave Space and Enter to the button that has the focus", () => {
    const taken = vi.fn(() => true)
    render(<Keyed onKey={taken} />)
    const button = screen.getByRole("button")
    press(button, { code: "Space", key: " " })
    press(button, { code: "Enter", key: "Enter" })
    expect(taken).not.toHaveBeenCalled()
    press(button, { code: "KeyU", key: "u" })
    expect(taken).toHaveBeenCalledOnce()
  })
  it("that are taken do nothing else", () => {
    render(<Keyed onKey={() => true} />)
    let went = true
    act(() => {
      went = press(document.body, { code: "KeyA", key: "a" })
    })
    expect(went).toBe(false)
  })
})

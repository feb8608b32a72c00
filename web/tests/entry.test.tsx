import { QueryClientProvider } from "@tanstack/react-query"
import { act, renderHook, screen, waitFor } from "@testing-library/react"
import userEvent from "@testing-library/user-event"
import type { ReactNode } from "react"
import { describe, expect, it, vi } from "vitest"
import { queryClient } from "../src/api/queries"
import { EntryLine } from "../src/stages/runs/EntryLine"
import { useEntry } from "../src/stages/runs/useEntry"
import { show } from "./helpers"

const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={queryClient}>{children}</QueryClientProvider>
)

const READING = {
  setup_id: "s",
  task_id: "t",
  round_id: null,
  typed: "",
  method: "hand",
  status: "ok",
  reason: "",
  note: "",
  against_id: null,
  ratio: null,
  source: null,
  meanings: [],
  ways: [],
  completions: [],
  unknown_setup: null,
  unknown_task: null,
  problem: null,
  ready: true,
  stem: "Old tower / film / ",
}

/** A server that reads every line, and stores runs only when it is told to. */
function slowServer() {
  const sent: { typed: string; client_key: string }[] = []
  const waiting: ((answer: Response) => void)[] = []
  vi.stubGlobal("fetch", async (input: Request) => {
    const body = JSON.parse((await input.text()) || "{}")
    if (input.url.endsWith("/entry")) {
      return Response.json({ ...READING, typed: String(body.line).split("/").at(-1)?.trim() })
    }
    if (!input.url.endsWith("/runs")) return new Response("nothing here", { status: 404 })
    sent.push(body)
    return new Promise<Response>((resolve) => waiting.push(resolve))
  })
  const answer = (place: number, response: Response) => waiting[place]?.(response)
  return { sent, answer }
}

const stored = () =>
  Response.json({ run: { id: "r" }, says: "Old tower: 12:10.", changes: [] }, { status: 201 })

describe("the entry line", () => {
  it("gives a line that is typed while another is on its way a key of its own", async () => {
    const { sent, answer } = slowServer()
    const { result } = renderHook(() => useEntry("here"), { wrapper })
    act(() => result.current.type("old / film / 12:10"))
    act(() => void result.current.enter(0))
    await waitFor(() => expect(sent).toHaveLength(1))
    act(() => result.current.type("new / film / 7:38"))
    act(() => void result.current.enter(0))
    await waitFor(() => expect(sent).toHaveLength(2))
    expect(sent.map((each) => each.typed)).toEqual(["12:10", "7:38"])
    expect(sent[0]?.client_key).not.toBe(sent[1]?.client_key)
    await act(async () => {
      answer(0, stored())
      answer(1, stored())
    })
  })
  it("sends a line that failed again under the key that it had", async () => {
    const { sent, answer } = slowServer()
    const { result } = renderHook(() => useEntry("here"), { wrapper })
    act(() => result.current.type("old / film / 12:10"))
    act(() => void result.current.enter(0))
    await waitFor(() => expect(sent).toHaveLength(1))
    await act(async () => answer(0, new Response("away", { status: 503 })))
    await waitFor(() => expect(result.current.error).not.toBeNull())
    act(() => void result.current.enter(0))
    await waitFor(() => expect(sent).toHaveLength(2))
    expect(sent[0]?.client_key).toBe(sent[1]?.client_key)
    await act(async () => answer(1, stored()))
  })
  it("lets a line be written over that was chosen while it was on its way", async () => {
    const { sent, answer } = slowServer()
    show(<EntryLine slug="here" undone={0} onStored={vi.fn()} />)
    const field = screen.getByRole("combobox") as HTMLInputElement
    await userEvent.type(field, "old / film / 12:10{Enter}")
    await waitFor(() => expect(sent).toHaveLength(1))
    field.select()
    await act(async () => answer(0, stored()))
    await waitFor(() => expect(field.value).toBe(READING.stem))
    await userEvent.keyboard("new / film / 7:38")
    expect(field.value).toBe("new / film / 7:38")
  })
  it("keeps what is typed on while a line is on its way", async () => {
    const { sent, answer } = slowServer()
    show(<EntryLine slug="here" undone={0} onStored={vi.fn()} />)
    const field = screen.getByRole("combobox") as HTMLInputElement
    await userEvent.type(field, "old / film / 12:10{Enter}")
    await waitFor(() => expect(sent).toHaveLength(1))
    await userEvent.type(field, "7:38")
    await act(async () => answer(0, stored()))
    await waitFor(() => expect(field.value).toBe(`${READING.stem}7:38`))
  })
})

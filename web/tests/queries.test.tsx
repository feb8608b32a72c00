import { QueryClientProvider } from "@tanstack/react-query"
import { act, renderHook, waitFor } from "@testing-library/react"
import type { ReactNode } from "react"
import { describe, expect, it, vi } from "vitest"
import { devicesQuery } from "../src/api/bench"
import { useAddMachine, useChangeMachine, useSetShootout } from "../src/api/changes"
import { meQuery } from "../src/api/people"
import {
  lineupQuery,
  queryClient,
  refresh,
  refreshBeside,
  runQuery,
  sheetQuery,
  shootoutQuery,
  shootoutsQuery,
} from "../src/api/queries"
import { refusal, serve } from "./helpers"

const wrapper = ({ children }: { children: ReactNode }) => (
  <QueryClientProvider client={queryClient}>{children}</QueryClientProvider>
)
/** Fills the memory of answers, then says which of them are to be asked for again. */
function stale(mark: () => unknown): string[] {
  const known = {
    lineup: lineupQuery("here").queryKey,
    sheet: sheetQuery("here").queryKey,
    run: runQuery("some run").queryKey,
    list: shootoutsQuery().queryKey,
    other: lineupQuery("there").queryKey,
    devices: devicesQuery("here").queryKey,
    me: meQuery.queryKey,
  }
  for (const key of Object.values(known)) queryClient.setQueryData(key, {})
  void mark()
  return Object.entries(known)
    .filter(([, key]) => queryClient.getQueryState(key)?.isInvalidated)
    .map(([name]) => name)
}

describe("after a change", () => {
  it("everything of the shootout is asked for again, and nothing of another", () => {
    expect(stale(() => refresh("here"))).toEqual(["lineup", "sheet", "run", "list"])
  })
  it("that the run sheet told of, the sheet itself is not", () => {
    expect(stale(() => refreshBeside("here"))).toEqual(["lineup", "run", "list"])
  })
})

describe("a change", () => {
  it("is sent to the address that the API's document names", async () => {
    const asked = serve({ "POST /api/v1/shootouts/here/machines": { id: "m" } })
    const { result } = renderHook(() => useAddMachine("here"), { wrapper })
    const stored = vi.fn()
    act(() => result.current.mutate({ name: "Tarn" }, { onSuccess: stored }))
    await waitFor(() => expect(stored).toHaveBeenCalled())
    expect(stored.mock.calls[0]?.[0]).toEqual({ id: "m" })
    expect(asked[0]).toEqual({
      method: "POST",
      path: "/api/v1/shootouts/here/machines",
      body: { name: "Tarn" },
    })
  })
  it("that is refused keeps the problem and throws it to whoever waits", async () => {
    serve({ "PATCH /api/v1/machines/m": refusal(409, "Changed elsewhere.", { current: {} }) })
    const { result } = renderHook(() => useChangeMachine("here"), { wrapper })
    await act(async () => {
      await expect(
        result.current.mutateAsync({ id: "m", body: { version: 1, name: "Tarn" } }),
      ).rejects.toThrow("Changed elsewhere.")
    })
    await waitFor(() => expect(result.current.error?.problem.status).toBe(409))
  })
  it("of what figures follow is made on the shootout as it stands by then", async () => {
    const asked = serve({
      "GET /api/v1/shootouts/here": { version: 4 },
      "PATCH /api/v1/shootouts/here": { version: 5 },
    })
    const { result } = renderHook(() => useSetShootout("here"), { wrapper })
    await act(() => result.current.mutateAsync({ confidence: 0.99 }))
    await act(() => result.current.mutateAsync({ materiality: 0.1 }))
    const bodies = asked.filter((each) => each.method === "PATCH").map((each) => each.body)
    expect(bodies).toEqual([
      { confidence: 0.99, version: 4 },
      { materiality: 0.1, version: 5 },
    ])
    expect(queryClient.getQueryData(shootoutQuery("here").queryKey)).toEqual({ version: 5 })
  })
})

describe("what a change gives", () => {
  it("stays the same from one drawing to the next, so that an effect runs once", () => {
    const { result, rerender } = renderHook(() => useAddMachine("here"), { wrapper })
    const { mutate, mutateAsync } = result.current
    rerender()
    expect(result.current.mutate).toBe(mutate)
    expect(result.current.mutateAsync).toBe(mutateAsync)
  })
})

import { QueryClientProvider } from "@tanstack/react-query"
import { type RenderResult, render } from "@testing-library/react"
import type { ReactNode } from "react"
import { vi } from "vitest"
import type { Schemas } from "../src/api/client"
import { queryClient } from "../src/api/queries"

/** What was asked of the server, and in which order. */
export type Asked = { method: string; path: string; body: unknown }

/** Answers requests from a table of "METHOD /path" to answers; keeps what was asked. */
export function serve(answers: Record<string, unknown>): Asked[] {
  const asked: Asked[] = []
  vi.stubGlobal("fetch", async (input: RequestInfo | URL, init?: RequestInit) => {
    const request = input instanceof Request ? input : null
    const { pathname, search } = new URL(request?.url ?? String(input), location.href)
    const method = request?.method ?? init?.method ?? "GET"
    const text = (await request?.text()) ?? ""
    asked.push({
      method,
      path: pathname + search,
      body: text === "" ? null : JSON.parse(text),
    })
    const answer = answers[`${method} ${pathname}`]
    if (answer instanceof Error) throw answer
    if (answer instanceof Response) return answer.clone()
    if (answer === undefined) return new Response("nothing here", { status: 404 })
    return Response.json(answer)
  })
  return asked
}

/** An answer that refuses, as the server words it (RFC 9457). */
export function refusal(status: number, detail: string, more: object = {}): Response {
  const body = { type: "/problems/refused", title: "Refused", status, detail, ...more }
  return new Response(JSON.stringify(body), {
    status,
    headers: { "Content-Type": "application/problem+json" },
  })
}

export function show(children: ReactNode): RenderResult {
  return render(<QueryClientProvider client={queryClient}>{children}</QueryClientProvider>)
}

/** A row of Picks with the usual of everything. */
export function pickRow(id: string, more: Partial<Schemas["PickRow"]> = {}): Schemas["PickRow"] {
  return {
    setup_id: id,
    machine_id: `machine of ${id}`,
    label: id.toUpperCase(),
    samples: [],
    keep: false,
    price: {
      amount: "1000",
      stored: "1000",
      basis: "list",
      problem: null,
      reason: null,
      until: null,
      record_id: null,
      stale: false,
      tried: false,
      extras: "0",
    },
    ratio: 1,
    lo: 0.98,
    hi: 1.02,
    hours: null,
    open: true,
    out: null,
    why: null,
    frontier: true,
    p_frontier: 1,
    value: null,
    same_money: null,
    flip: null,
    upgrade: null,
    besides: null,
    observed: {
      peak_c: null,
      noise_db: null,
      noise_class: null,
      power_w: null,
      energy_kwh: null,
      energy_on: null,
      energy_cost: null,
      failed: 0,
      tried: 0,
      playback: null,
      weight_kg: null,
    },
    ...more,
  }
}

/** What Picks answers, with these rows. */
export function pickView(
  rows: Schemas["PickRow"][],
  more: Partial<Schemas["PickView"]> = {},
): Schemas["PickView"] {
  return {
    currency: "EUR",
    reference: "A",
    needs: [],
    picked: null,
    problem: null,
    rows,
    off: [],
    steps: [],
    offers: [],
    waits: [],
    notes: [],
    samples: null,
    predicted: [],
    ...more,
  }
}

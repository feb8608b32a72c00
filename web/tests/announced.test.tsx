import { act, render, screen } from "@testing-library/react"
import { useState } from "react"
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest"
import openapi from "../../docs/openapi.json?raw"
import { saidOf } from "../src/api/said"
import { scrollerOf } from "../src/parts/scrollerOf"
import { hearSaid, readSaid } from "../src/reach/announce"
import { SPOKEN } from "../src/reach/spoken"
import { useInertBehind } from "../src/reach/useInertBehind"
import { useSaid } from "../src/reach/useSaid"

/** Changes of which the screen itself tells, or that no person makes. */
const QUIET = [
  "/api/v1/devices/{device_id}/revocation",
  "/api/v1/me/passkeys",
  "/api/v1/me/passkeys/begin",
  "/api/v1/me/passkeys/{passkey_id}/ended",
  "/api/v1/me/recovery-codes",
  "/api/v1/me/signed-in/{signed_in_id}/ended",
  "/api/v1/notes",
  "/api/v1/notes/preview",
  "/api/v1/packs",
  "/api/v1/packs/preview",
  "/api/v1/people/invitations/{invitation_id}/withdrawn",
  "/api/v1/people/{person_id}/ended",
  "/api/v1/people/{person_id}/new-password",
  "/api/v1/room/file",
  "/api/v1/room/machines/{kept_id}/joined",
  "/api/v1/room/machines/{kept_id}/specs",
  "/api/v1/room/setups",
  "/api/v1/room/tasks/parted",
  "/api/v1/shootouts/{slug}/archive",
  "/api/v1/shootouts/{slug}/bench/events",
  "/api/v1/shootouts/{slug}/bench/log",
  "/api/v1/shootouts/{slug}/bench/overlays",
  "/api/v1/shootouts/{slug}/bench/overlays/{link_id}/revoked",
  "/api/v1/shootouts/{slug}/bench/pace",
  "/api/v1/shootouts/{slug}/bench/rigs",
  "/api/v1/shootouts/{slug}/cards/order",
  "/api/v1/shootouts/{slug}/clips/{clip_id}/ended",
  "/api/v1/shootouts/{slug}/continued",
  "/api/v1/shootouts/{slug}/devices/code",
  "/api/v1/shootouts/{slug}/devices/watcher",
  "/api/v1/shootouts/{slug}/entry",
  "/api/v1/shootouts/{slug}/imports/preview",
  "/api/v1/shootouts/{slug}/kit",
  "/api/v1/shootouts/{slug}/pack",
  "/api/v1/shootouts/{slug}/picks/try",
  "/api/v1/shootouts/{slug}/picks/turns",
  "/api/v1/shootouts/{slug}/prices/preview",
  "/api/v1/shootouts/{slug}/reports/{report_id}/ended",
  "/api/v1/shootouts/{slug}/room/answers",
  "/api/v1/shootouts/{slug}/room/taken",
  "/api/v1/shootouts/{slug}/rounds/order",
  "/api/v1/shootouts/{slug}/rows/{field}/trial",
  "/api/v1/shootouts/{slug}/runs",
  "/api/v1/shootouts/{slug}/script",
  "/api/v1/shootouts/{slug}/script/answers",
  "/api/v1/shootouts/{slug}/script/check",
  "/api/v1/shootouts/{slug}/script/names",
  "/api/v1/shootouts/{slug}/script/phrasings/forget",
  "/api/v1/shootouts/{slug}/sent",
  "/api/v1/shootouts/{slug}/specs/preview",
  "/api/v1/shootouts/{slug}/viewers/order",
  "/api/v1/tasks/{task_id}/settings-used",
  "/api/v1/trials/{trial_id}/pictures",
  "/api/v1/troubles/{trouble_id}/pictures",
]

/** What was said since the test began. */
let heard: string[] = []
let end = () => {}
beforeEach(() => {
  vi.useFakeTimers()
  // What other tests said is gone by then.
  vi.advanceTimersByTime(20_000)
  const before = new Set(readSaid().map((each) => each.key))
  heard = []
  end = hearSaid(() => {
    heard = readSaid()
      .filter((each) => !before.has(each.key))
      .map((each) => each.text)
  })
})
afterEach(() => {
  end()
  vi.useRealTimers()
})

/** Lets time pass without what was said going away again. */
const pass = (milliseconds: number) => act(() => vi.advanceTimersByTimeAsync(milliseconds))

describe("what a change did", () => {
  it("is said of every address, or is known to be told otherwise", () => {
    const described = JSON.parse(openapi) as {
      paths: Record<string, Record<string, unknown>>
    }
    const changes = Object.entries(described.paths)
      .filter(([, ways]) => "post" in ways || "put" in ways)
      .map(([path]) => path)
    expect(changes.filter((path) => saidOf(path) === "").sort()).toEqual([...QUIET].sort())
  })

  it.each([
    ["/api/v1/shootouts/{slug}/machines", "Machine added."],
    ["/api/v1/shootouts/{slug}/public/editions", "Edition published."],
    ["/api/v1/ratios/{ratio_id}/withdrawal", "Taken back."],
  ])("at %s is: %s", (path, words) => {
    expect(saidOf(path)).toBe(words)
  })
})

describe("a status", () => {
  function Import({ words }: { words: string }) {
    return (
      <div {...SPOKEN}>
        <p>{words}</p>
        <button type="button">Take it back</button>
      </div>
    )
  }

  it("is said with its words and without its buttons, as it comes and as it changes", async () => {
    const { rerender } = render(<Import words="6 runs saved." />)
    await pass(1000)
    expect(heard).toEqual(["6 runs saved."])
    rerender(<Import words="6 runs taken back." />)
    await pass(1000)
    expect(heard).toEqual(["6 runs saved.", "6 runs taken back."])
  })

  it("that is gone before one could hear it is not said", async () => {
    const { unmount } = render(<Import words="Saving…" />)
    await pass(100)
    unmount()
    await pass(2000)
    expect(heard).toEqual([])
  })

  it("is found as one, and is not told twice by the page itself", () => {
    render(<Import words="Saved." />)
    expect(screen.getByRole("status").getAttribute("aria-live")).toBe("off")
  })
})

describe("a text that changes while one types", () => {
  function Head({ words }: { words: string }) {
    useSaid(words)
    return <h2>{words}</h2>
  }

  it("is said once it stands still, and not as it stood at first", async () => {
    const { rerender } = render(<Head words="2 lines to check." />)
    await pass(2000)
    expect(heard).toEqual([])
    for (const words of ["3 lines to check.", "4 lines to check.", "All 5 claims hold."]) {
      rerender(<Head words={words} />)
      await pass(200)
    }
    expect(heard).toEqual([])
    await pass(1200)
    expect(heard).toEqual(["All 5 claims hold."])
  })

  it("that comes back to what it was is nothing new", async () => {
    const { rerender } = render(<Head words="1 line to check." />)
    await pass(1200)
    rerender(<Head words="2 lines to check." />)
    await pass(200)
    rerender(<Head words="1 line to check." />)
    await pass(2000)
    expect(heard).toEqual([])
  })
})

describe("what lies under a note on a narrow screen", () => {
  function Note() {
    const [ref, setRef] = useState<HTMLElement | null>(null)
    useInertBehind({ current: ref })
    return <aside ref={setRef}>note</aside>
  }

  it.each([
    [true, true],
    [false, false],
  ])("is out of reach: %s", (narrow, inert) => {
    vi.stubGlobal("matchMedia", () => ({
      matches: narrow,
      addEventListener() {},
      removeEventListener() {},
    }))
    const { unmount } = render(
      <div>
        <header>strip</header>
        <div role="status">news</div>
        <main>
          <p>stage</p>
          <Note />
        </main>
      </div>,
    )
    expect(screen.getByText("strip").hasAttribute("inert")).toBe(inert)
    expect(screen.getByText("stage").hasAttribute("inert")).toBe(inert)
    expect(screen.getByText("note").hasAttribute("inert")).toBe(false)
    // What is said is said under a note, too.
    expect(screen.getByText("news").hasAttribute("inert")).toBe(false)
    const strip = screen.getByText("strip")
    unmount()
    expect(strip.hasAttribute("inert")).toBe(false)
  })
})

describe("what something scrolls in", () => {
  it("is the nearest part that scrolls, or none", () => {
    render(
      <div style={{ overflowY: "auto" }} data-testid="outer">
        <div style={{ overflowY: "visible" }}>
          <p>inside</p>
        </div>
      </div>,
    )
    expect(scrollerOf(screen.getByText("inside"))).toBe(screen.getByTestId("outer"))
    expect(scrollerOf(screen.getByTestId("outer"))).toBeNull()
    expect(scrollerOf(null)).toBeNull()
  })
})

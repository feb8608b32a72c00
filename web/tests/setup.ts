import { cleanup, configure } from "@testing-library/react"
import { afterEach, vi } from "vitest"
import { queryClient } from "../src/api/queries"

configure({ asyncUtilTimeout: 20_000 })

/** The page has no layout here, so nothing ever changes its size. */
class Unmoved {
  observe(): void {}
  unobserve(): void {}
  disconnect(): void {}
}
vi.stubGlobal("ResizeObserver", Unmoved)
/** Nor has it a width: it is as wide as it need be. */
vi.stubGlobal("matchMedia", () => ({
  matches: false,
  addEventListener() {},
  removeEventListener() {},
}))

afterEach(() => {
  cleanup()
  queryClient.clear()
  localStorage.clear()
})

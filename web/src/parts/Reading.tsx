import { createContext, type ReactNode, useContext } from "react"

/** Whether whoever looks at this shootout only reads it. */
export const Reading = createContext(false)

/** True where nothing can be changed by whoever looks. */
export function useReading(): boolean {
  return useContext(Reading)
}

/** What changes something: not there for whoever only reads. */
export function Writes({ children }: { children: ReactNode }) {
  return useReading() ? null : children
}

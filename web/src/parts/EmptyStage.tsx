import type { ReactNode } from "react"

/** What an empty stage says: what to do first, and how. */
export function EmptyStage({ title, children }: { title: string; children: ReactNode }) {
  return (
    <div className="max-w-xl py-6">
      <h2 className="mb-2 text-18">{title}</h2>
      <div className="space-y-3">{children}</div>
    </div>
  )
}

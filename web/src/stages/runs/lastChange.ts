import type { Schemas } from "../../api/client"
import type { RunRef } from "../../api/runs"

/** What was changed last in the book, from here, and can be taken back. */
export type LastChange = { says: string; runs: RunRef[] }

export function changeOf(says: string, runs: Schemas["Run"][]): LastChange {
  return { says, runs: runs.map(({ id, version }) => ({ id, version })) }
}

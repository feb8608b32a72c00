import { useState } from "react"
import { problemOf } from "../../../api/client"
import { refresh } from "../../../api/queries"
import type { Cut } from "../../../lanes/film/cut"
import type { Frames } from "../../../lanes/film/decode"
import { keepProof } from "../../../lanes/film/proof"

/** How far the stills of a run are: on their way, so many kept, or why not. */
export type Proof = { state: "saving" } | { state: "kept"; stills: number } | { state: string }

/** Keeps the stills of runs with them, and tries again where that went wrong. */
export function useProof(slug: string, frames: Frames) {
  const [proofs, setProofs] = useState<Record<string, Proof>>({})
  const keep = (cut: Cut) => {
    const set = (proof: Proof) => setProofs((all) => ({ ...all, [cut.id]: proof }))
    set({ state: "saving" })
    keepProof(slug, frames, cut)
      .then((stills) => {
        set({ state: "kept", stills })
        return refresh(slug)
      })
      .catch((error: unknown) =>
        set({ state: error instanceof Error ? error.message : (problemOf(error)?.detail ?? "") }),
      )
  }
  return { proofs, keep }
}

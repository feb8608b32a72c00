import { useChangeMachine, useChangeSetup } from "../../api/changes"
import type { Problem } from "../../api/client"
import { problemOf } from "../../api/client"
import { sendEdit } from "../../parts/editQueue"
import { type Machine, type Setup, shownValue } from "./specs"

export type Save = (text: string) => Promise<{ saved: true } | { saved: false; reason: string }>
type Part = "specs" | "conditions"
type Send = (version: number, text: string | null) => Promise<unknown>

/** Saves one cell in its turn; a refusal says why, a conflict is thrown. */
function saver(id: string, read: number, send: Send): Save {
  return async (text: string) => {
    try {
      await sendEdit(id, read, (version) => send(version, text.trim() || null))
    } catch (error) {
      const problem = problemOf(error)
      if (problem?.status === 422) return { saved: false, reason: problem.detail }
      throw error
    }
    return { saved: true }
  }
}

/** Saving cells of the spec sheet; the server reads what was typed. */
export function useCells(slug: string) {
  const machines = useChangeMachine(slug)
  const setups = useChangeSetup(slug)
  return {
    renameMachine: ({ id, version }: Machine) =>
      saver(id, version, (now, name) =>
        machines.mutateAsync({ id, body: { version: now, name: name ?? "" } }),
      ),
    saveModel: ({ id, version }: Machine) =>
      saver(id, version, (now, model) =>
        machines.mutateAsync({ id, body: { version: now, model } }),
      ),
    renameSetup: ({ id, version }: Setup) =>
      saver(id, version, (now, name) =>
        setups.mutateAsync({ id, body: { version: now, name: name ?? "" } }),
      ),
    saveMachine: ({ id, version }: Machine, field: string) =>
      saver(id, version, (now, text) =>
        machines.mutateAsync({ id, body: { version: now, specs: { [field]: text } } }),
      ),
    saveSetup: ({ id, version }: Setup, part: Part, field: string) =>
      saver(id, version, (now, text) =>
        setups.mutateAsync({ id, body: { version: now, [part]: { [field]: text } } }),
      ),
    /** Saves the same text on every setup; the first that is refused ends it. */
    saveEach: (all: Setup[], part: Part, field: string): Save => {
      const saves = all.map(({ id, version }) =>
        saver(id, version, (now, text) =>
          setups.mutateAsync({ id, body: { version: now, [part]: { [field]: text } } }),
        ),
      )
      return async (text) => {
        for (const save of saves) {
          const outcome = await save(text)
          if (!outcome.saved) return outcome
        }
        return { saved: true }
      }
    },
  }
}

/** The name that stands on the server now, out of a conflict. */
export function theirName(problem: Problem): string {
  return shownValue(problem.current?.name)
}

/** The cell that stands on the server now, out of a conflict. */
export function theirCell(part: Part, field: string): (problem: Problem) => string {
  return (problem) => {
    const cells = problem.current?.[part] as Record<string, unknown> | undefined
    return shownValue(cells?.[field])
  }
}

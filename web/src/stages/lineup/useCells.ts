import { useChangeMachine, useChangeSetup } from "../../api/changes"
import type { Problem } from "../../api/client"
import { problemOf } from "../../api/client"
import { isSetupField, type Machine, readCell, type Setup } from "./specs"

type Send = (version: number, value: string | number | null) => Promise<unknown>

/** Saves one cell with the version that was read; a conflict brings the version that stands now. */
function saver(field: string, read: number, send: Send) {
  let version = read
  return async (text: string) => {
    const cell = readCell(field, text)
    if (!cell.ok) return { saved: false as const, reason: cell.reason }
    try {
      await send(version, cell.value)
    } catch (error) {
      const current = problemOf(error)?.current?.version
      if (typeof current === "number") version = current
      throw error
    }
    return { saved: true as const }
  }
}

/** Saving cells of the spec sheet. */
export function useCells(slug: string) {
  const machines = useChangeMachine(slug)
  const setups = useChangeSetup(slug)
  return {
    saveMachine: ({ id, version }: Machine, field: string) =>
      saver(field, version, (now, value) =>
        machines.mutateAsync({ id, body: { version: now, [field]: value } }),
      ),
    saveSetup: ({ id, version }: Setup, field: string) =>
      saver(field, version, (now, value) =>
        setups.mutateAsync({ id, body: { version: now, [field]: value } }),
      ),
    saveCondition: ({ id, version }: Setup, field: string) =>
      saver(field === "room" ? "room" : "note", version, (now, value) =>
        setups.mutateAsync({ id, body: { version: now, conditions: { [field]: value } } }),
      ),
    setOnlySystem: ({ id, version }: Setup, only: boolean) =>
      setups.mutate({ id, body: { version, conditions: { only_system: only } } }),
  }
}

/** The condition that stands on the server now, out of a conflict. */
export function theirCondition(field: string): (problem: Problem) => string {
  return (problem) => {
    const noted = problem.current?.conditions as Record<string, unknown> | undefined
    const value = noted?.[field]
    return value === null || value === undefined ? "" : String(value)
  }
}

export function theirValue(field: string): (problem: Problem) => string {
  return (problem) => {
    const value = problem.current?.[field]
    return value === null || value === undefined ? "" : String(value)
  }
}

/** What a setup has in a row: its own value, or its machine's. */
export function setupValue(setup: Setup, machine: Machine, field: string): string {
  const own = isSetupField(field) ? setup[field] : null
  const value = own ?? (machine as Record<string, unknown>)[field]
  return value === null || value === undefined ? "" : String(value)
}

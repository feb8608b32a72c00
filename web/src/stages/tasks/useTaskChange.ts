import { useState } from "react"
import { useChangeTask } from "../../api/changes"
import { problemOf } from "../../api/client"
import type { Outcome } from "../../parts/useEdit"
import { type Change, changesJob, type Sheet } from "./job"

/** Changes of a task: stored at once, or asked about first where they change what runs measured. */
export function useTaskChange(sheet: Sheet, onOpen: (taskId: string) => void, slug: string) {
  const { task } = sheet
  const change = useChangeTask(slug)
  const [pending, setPending] = useState<Change | null>(null)
  const [stale, setStale] = useState<number | null>(null)
  const version = Math.max(stale ?? 0, task.version)
  const store = async (values: Change) => {
    const stored = await change.mutateAsync({ id: task.id, body: { version, ...values } })
    setPending(null)
    if (stored.id !== task.id) onOpen(stored.id)
  }
  const send = async (values: Change): Promise<Outcome> => {
    if (changesJob(sheet, values)) {
      change.reset()
      setPending(values)
      return { saved: true }
    }
    try {
      await store(values)
      return { saved: true }
    } catch (error) {
      const problem = problemOf(error)
      if (problem?.status === 422) return { saved: false, reason: problem.detail }
      const current = problem?.current?.version
      if (typeof current === "number") setStale(current)
      throw error
    }
  }
  return {
    change,
    /** A change that waits for an answer: another job, or a correction of this one. */
    pending,
    setPending,
    store,
    send,
  }
}

import { useChangeTask } from "../../api/changes"
import { problemOf } from "../../api/client"
import { sendEdit } from "../../parts/editQueue"
import type { Outcome } from "../../parts/useEdit"
import { useKept } from "../../parts/useKept"
import { type Change, changesJob, type Sheet } from "./job"

/** Changes of a task: stored at once, or asked about first where they change what runs measured. */
export function useTaskChange(sheet: Sheet, onOpen: (taskId: string) => void, slug: string) {
  const { task } = sheet
  const change = useChangeTask(slug)
  const [pending, setPending, drop] = useKept<Change | null>(`change of ${task.id}`, null)
  const store = async (values: Change) => {
    const stored = await sendEdit(task.id, task.version, (version) =>
      change.mutateAsync({ id: task.id, body: { version, ...values } }),
    )
    drop()
    if (stored.id !== task.id) onOpen(stored.id)
  }
  const send = async (values: Change): Promise<Outcome> => {
    if (changesJob(sheet, values)) {
      change.reset()
      setPending(() => values)
      return { saved: true }
    }
    try {
      await store(values)
      return { saved: true }
    } catch (error) {
      const problem = problemOf(error)
      if (problem?.status === 422) return { saved: false, reason: problem.detail }
      throw error
    }
  }
  return {
    change,
    /** A change that waits for an answer: another job, or a correction of this one. */
    pending,
    drop,
    store,
    send,
  }
}

import { problemOf } from "../api/client"

/** What an answer or a conflict tells of versions: the thing itself, and what stands inside it. */
type Told = { id?: string; version?: number; setups?: { id: string; version: number }[] }

const versions = new Map<string, number>()
let last: Promise<unknown> = Promise.resolve()

/**
 * Sends an edit once those before it are answered, on the newest version that was heard of.
 *
 * Edits of one page come faster than answers: each would be sent on the version of before, and
 * be refused for a change that was made by the same hand.
 */
export function sendEdit<Answer>(
  id: string,
  /** Version that the screen shows. */
  read: number,
  send: (version: number) => Promise<Answer>,
): Promise<Answer> {
  const turn = last.then(async () => {
    try {
      const answer = await send(Math.max(read, versions.get(id) ?? 0))
      hear(answer as Told, false)
      return answer
    } catch (error) {
      const current = problemOf(error)?.current as Told | undefined
      // What a conflict names stands, even where more was believed.
      if (current) hear({ ...current, id: current.id ?? id }, true)
      throw error
    }
  })
  last = turn.catch(() => undefined)
  return turn
}

function hear(told: Told | null | undefined, stands: boolean): void {
  if (!told || typeof told !== "object") return
  for (const each of [told, ...(told.setups ?? [])]) {
    if (each.id === undefined || typeof each.version !== "number") continue
    const known = stands ? 0 : (versions.get(each.id) ?? 0)
    versions.set(each.id, Math.max(each.version, known))
  }
}

/** Forgets all versions; a test begins anew. */
export function forgetVersions(): void {
  versions.clear()
  last = Promise.resolve()
}

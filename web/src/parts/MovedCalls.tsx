/** More of them than this are counted, and listed when they are asked for. */
const MOST = 3

/** What a change did to other results: a few in full, many as a count to open. */
export function MovedCalls({ changes }: { changes: readonly string[] }) {
  if (changes.length === 0) return null
  const list = (
    <ul className="mt-1 text-13 text-mute">
      {changes.map((change) => (
        <li key={change}>{change}</li>
      ))}
    </ul>
  )
  if (changes.length <= MOST) return list
  return (
    <details className="mt-1 text-13">
      <summary className="cursor-pointer">{changes.length} results changed: show them</summary>
      {list}
    </details>
  )
}

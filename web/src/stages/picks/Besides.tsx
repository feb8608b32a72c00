import type { Schemas } from "../../api/client"

/** What is better and what is worse than the current machine besides speed, in two lists. */
export function Besides({ row }: { row: Schemas["PickRow"] }) {
  const said = row.besides
  if (!said || said.better.length + said.worse.length === 0) return null
  return (
    <div className="mt-4 grid grid-cols-2 gap-x-4 text-13 leading-5">
      <List of={row.label} title="Better" lines={said.better} />
      <List of={row.label} title="Worse" lines={said.worse} />
    </div>
  )
}

function List({ of, title, lines }: { of: string; title: string; lines: string[] }) {
  return (
    <div>
      <h3 className="text-13 text-mute">
        <span className="sr-only">{of}: </span>
        {title} than now
      </h3>
      <ul>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
        {lines.length === 0 && <li className="text-mute">nothing noted</li>}
      </ul>
    </div>
  )
}

import type { Schemas } from "../../api/client"

/** What is better and what is worse than the current machine besides speed, in two lists. */
export function Besides({ row }: { row: Schemas["PickRow"] }) {
  const said = row.besides
  if (!said || said.better.length + said.worse.length === 0) return null
  return (
    <div className="mt-4 grid grid-cols-2 gap-x-4 text-13 leading-5">
      <List title="Better" lines={said.better} />
      <List title="Worse" lines={said.worse} />
    </div>
  )
}

function List({ title, lines }: { title: string; lines: string[] }) {
  return (
    <section aria-label={title}>
      <h3 className="text-13 text-mute">{title} than now</h3>
      <ul>
        {lines.map((line) => (
          <li key={line}>{line}</li>
        ))}
        {lines.length === 0 && <li className="text-mute">nothing noted</li>}
      </ul>
    </section>
  )
}

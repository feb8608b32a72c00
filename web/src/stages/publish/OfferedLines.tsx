import type { Schemas } from "../../api/client"
import { labelOf, VERDICT } from "../../api/labels"
import { Writes } from "../../parts/Reading"

/** Lines that nobody has written yet: strong ones that hold, and near ones that do not. */
export function OfferedLines({
  view,
  onAdd,
}: {
  view: Schemas["ScriptView"]
  /** Adds a line at the end of the script. */
  onAdd: (text: string) => void
}) {
  return (
    <div className="mt-6 grid gap-x-8 gap-y-4 text-13 md:grid-cols-2">
      <section>
        <h2 className="text-14">Lines you can say</h2>
        {view.true.length === 0 && <p className="text-mute">Nothing is clear yet.</p>}
        <ul>
          {view.true.map((line) => (
            <li key={line.text} className="border-t border-line py-1.5">
              {line.text}{" "}
              <Writes>
                <button type="button" className="underline" onClick={() => onAdd(line.text)}>
                  Add it
                </button>
              </Writes>
            </li>
          ))}
        </ul>
      </section>
      <section>
        <h2 className="text-14">Tempting, but wrong</h2>
        {view.tempting.length === 0 && <p className="text-mute">None are near at hand.</p>}
        <ul>
          {view.tempting.map((line) => (
            <li key={line.text} className="border-t border-line py-1.5">
              <s className="text-mute">{line.text}</s>{" "}
              <strong className="text-accent">{labelOf(VERDICT, line.shown)}</strong>
              {line.say && <span className="block">Say: {line.say}</span>}
            </li>
          ))}
        </ul>
      </section>
    </div>
  )
}

import type { Schemas } from "../../api/client"

/** The steps of the frontier, offers that end, machines that are not out. */
export function Ahead({ view }: { view: Schemas["PickView"] }) {
  return (
    <div className="grid gap-x-8 gap-y-5 text-13 lg:grid-cols-2">
      <section>
        <h3>What each upgrade buys</h3>
        {view.steps.length === 0 && <p className="text-mute">One machine alone has no steps.</p>}
        <ol>
          {view.steps.map((step) => (
            <li key={step.end} className="border-t border-line py-1.5">
              <span className="font-semibold">
                {step.start} → {step.end}
              </span>{" "}
              <span className="figure">{step.words.price}</span>
              {step.words.saved && (
                <span className="block text-mute">saves {step.words.saved}</span>
              )}
              {step.words.per_hour && (
                <span className="block text-mute">{step.words.per_hour}</span>
              )}
              {step.saved && !step.per_hour && (
                <span className="block text-mute">perhaps it saves no time</span>
              )}
            </li>
          ))}
        </ol>
      </section>
      <div className="space-y-5">
        <Said
          title="Offers"
          words={view.offers.map((offer) => offer.words)}
          none="No offer ends soon."
        />
        <Said
          title="Not out yet"
          words={view.waits.map((wait) => wait.words)}
          none="No announced machine in the line-up."
        />
      </div>
    </div>
  )
}

function Said({ title, words, none }: { title: string; words: string[]; none: string }) {
  return (
    <section>
      <h3>{title}</h3>
      {words.length === 0 && <p className="text-mute">{none}</p>}
      {words.map((each) => (
        <p key={each} className="border-t border-line py-1.5">
          {each}
        </p>
      ))}
    </section>
  )
}

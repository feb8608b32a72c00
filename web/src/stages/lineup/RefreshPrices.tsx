import { useEffect, useState } from "react"
import type { Schemas } from "../../api/client"
import { useCommitRefresh, usePreviewRefresh, useSetSwitches, useSwitches } from "../../api/prices"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import { count, day, money, percent } from "../../theme/format"

/** Asks the price feed; shows what would change, and stores what a person leaves ticked. */
export function RefreshPrices({ slug, onClose }: { slug: string; onClose: () => void }) {
  const preview = usePreviewRefresh(slug)
  const commit = useCommitRefresh(slug)
  const [left, setLeft] = useState<string[]>([])
  const { mutate } = preview
  useEffect(() => mutate(), [mutate])
  const ask = () => {
    commit.reset()
    setLeft([])
    mutate()
  }
  const shown = preview.data
  const chosen = shown?.changes.filter((change) => !left.includes(change.key)) ?? []
  return (
    <section
      aria-label="Refresh prices"
      className="mb-4 max-w-4xl space-y-3 border-y border-line bg-base-200 px-3 py-3"
    >
      {preview.isPending && <Asking />}
      {shown && (
        <p {...SPOKEN}>
          <strong>Nothing is stored yet.</strong> {shown.feed} knows{" "}
          {count(shown.changes.length, "new price")}
          {shown.known > 0 && `, and ${shown.known} that you have already`}.
          {shown.without.length > 0 && (
            <span className="text-mute"> It has none of {shown.without.join(", ")}.</span>
          )}
        </p>
      )}
      {shown && shown.changes.length > 0 && (
        <Offers changes={shown.changes} left={left} onLeft={setLeft} />
      )}
      <ProblemNote error={commit.error ?? preview.error} />
      <div className="flex flex-wrap items-center gap-2">
        {chosen.length > 0 && (
          <ActButton
            type="button"
            className="btn btn-primary btn-sm"
            busy={commit.isPending}
            onClick={() =>
              commit.mutate(
                chosen.map((change) => change.key),
                { onSuccess: onClose },
              )
            }
          >
            {commit.isPending ? "Storing…" : `Add ${count(chosen.length, "price")}`}
          </ActButton>
        )}
        <ActButton type="button" className="btn btn-sm" busy={preview.isPending} onClick={ask}>
          Check again
        </ActButton>
        <button type="button" className="btn btn-ghost btn-sm" onClick={onClose}>
          Cancel
        </button>
        <FeedSwitches />
      </div>
    </section>
  )
}

/** Seconds since the feed was asked. */
function Asking() {
  const [seconds, setSeconds] = useState(0)
  useEffect(() => {
    const timer = setInterval(() => setSeconds((now) => now + 1), 1000)
    return () => clearInterval(timer)
  }, [])
  return (
    <p {...SPOKEN} className="text-mute">
      Asking the price feed… {seconds > 0 && `${seconds} s`}
    </p>
  )
}

function Offers({
  changes,
  left,
  onLeft,
}: {
  changes: Schemas["PriceChange"][]
  left: string[]
  onLeft: (keys: string[]) => void
}) {
  const toggle = (key: string) =>
    onLeft(left.includes(key) ? left.filter((each) => each !== key) : [...left, key])
  return (
    <div className="overflow-x-auto">
      <table className="w-full border-collapse text-13" aria-label="Prices that would be added">
        <thead>
          <tr className="border-b border-base-content text-left text-mute">
            <th scope="col" className="w-6 font-normal">
              <span className="sr-only">add</span>
            </th>
            <th scope="col" className="py-1 pr-3 font-normal">
              machine
            </th>
            <th scope="col" className="py-1 pr-3 font-normal">
              shop
            </th>
            <th scope="col" className="py-1 pr-3 text-right font-normal">
              now
            </th>
            <th scope="col" className="py-1 pr-3 text-right font-normal">
              new
            </th>
            <th scope="col" className="py-1 font-normal">
              effect
            </th>
          </tr>
        </thead>
        <tbody>
          {changes.map((change) => (
            <tr key={change.key} className="border-b border-line align-top">
              <td className="py-1">
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  aria-label={`Add ${change.kind} price of ${change.machine} from ${change.shop}`}
                  checked={!left.includes(change.key)}
                  onChange={() => toggle(change.key)}
                />
              </td>
              <td className="py-1 pr-3">{change.machine}</td>
              <td className="py-1 pr-3">
                {change.shop}
                <span className="block text-mute">
                  {change.kind}, {day(change.dated)}
                  {change.until && ` until ${day(change.until)}`}
                </span>
              </td>
              <td className="figure py-1 pr-3 text-right text-mute">
                {change.before === null ? "–" : money(change.before)}
              </td>
              <td className="figure py-1 pr-3 text-right">
                {money(change.amount)} <span className="text-mute">{change.currency}</span>
              </td>
              <td className="py-1">
                {change.part !== null && change.part !== 1 && (
                  <>
                    {percent(Math.abs(change.part - 1))} {change.part < 1 ? "less" : "more"}.{" "}
                  </>
                )}
                {change.counts ? "Becomes the price that counts." : "Kept beside it."}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  )
}

/** The simulated feed can be made to fail or dawdle, as real ones do. */
function FeedSwitches() {
  const { data } = useSwitches()
  const set = useSetSwitches()
  // What was asked for is shown at once: a box that waits for an answer looks broken.
  const [asked, setAsked] = useState<typeof data>()
  const now = asked ?? data
  if (!now) return null
  const put = (next: typeof now) => {
    setAsked(next)
    set.mutate(next, { onSettled: () => setAsked(undefined) })
  }
  return (
    <fieldset className="ml-auto flex flex-wrap items-center gap-x-3 text-13 text-mute">
      <legend className="float-left mr-3">This feed is simulated:</legend>
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={now.outage}
          onChange={(event) => put({ ...now, outage: event.target.checked })}
        />
        out of order
      </label>
      <label className="flex items-center gap-1">
        <input
          type="checkbox"
          className="checkbox checkbox-xs"
          checked={now.slow_s > 0}
          onChange={(event) => put({ ...now, slow_s: event.target.checked ? 4 : 0 })}
        />
        slow
      </label>
    </fieldset>
  )
}

import { useState } from "react"
import { usePutRigs } from "../../api/bench"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { leavePressed } from "../../reach/focus"
import { SPOKEN } from "../../reach/spoken"

const FACTORS = [1, 10, 30, 60, 120]

/** Puts simulated machines on the bench of a demo, so that one can try it with none at hand. */
export function SimulatedRigs({ slug }: { slug: string }) {
  const [factor, setFactor] = useState(30)
  const put = usePutRigs(slug)
  return (
    <section aria-label="Simulated machines" className="max-w-3xl">
      <p className="text-13 text-mute">
        This is a demo: simulated machines can stand in for real ones. They heat up, misjudge their
        finish and sometimes crash, like real machines. Their runs are marked as simulated.
      </p>
      <div className="mt-2 flex flex-wrap items-center gap-2">
        <ActButton
          type="button"
          className="btn btn-sm"
          busy={put.isPending}
          onClick={(event) => {
            leavePressed(event.currentTarget)
            put.mutate(factor)
          }}
        >
          Add simulated machines
        </ActButton>
        <label className="flex items-center gap-2 text-13 text-mute">
          at
          <select
            className="select select-sm w-20 bg-page"
            value={factor}
            onChange={(event) => setFactor(Number(event.target.value))}
          >
            {FACTORS.map((each) => (
              <option key={each} value={each}>
                {each}×
              </option>
            ))}
          </select>
          speed
        </label>
      </div>
      {put.data && (
        <p {...SPOKEN} className="mt-2 text-13">
          {put.data.says}
        </p>
      )}
      <ProblemNote error={put.error} />
    </section>
  )
}

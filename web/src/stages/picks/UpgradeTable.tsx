import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { savedQuery } from "../../api/picks"
import { ProblemNote } from "../../parts/ProblemNote"
import { SetupMark } from "../../parts/SetupMark"
import { seconds } from "../../theme/format"
import { Besides } from "./Besides"

const HOURS =
  "The total time of the week's work: the same ratio saves more on a long task than on a short one."

/** The current machine against each other one: hours, worth, payback; and task by task. */
export function UpgradeTable({
  slug,
  viewer,
  view,
  placeOf,
}: {
  slug: string
  viewer: string
  view: Schemas["PickView"]
  placeOf: (id: string) => number
}) {
  const owned = view.rows.find((row) => row.keep)
  const others = view.rows.filter((row) => row.upgrade !== null)
  const [opened, setOpened] = useState<string | null>(null)
  const setup = opened ?? view.picked?.setup_id ?? ""
  const shown = others.find((row) => row.setup_id === setup) ?? others[0]
  if (!owned || others.length === 0) {
    return (
      <p className="max-w-xl text-13 text-mute">
        Choose their current machine and say how much of each task they do a week. Then every other
        machine is compared with it, in hours, money and payback.
      </p>
    )
  }
  return (
    <div className="space-y-4">
      <div className="overflow-x-auto">
        <table className="w-full min-w-180 text-13">
          <thead className="text-left text-mute">
            <tr>
              {[
                `Compared with ${owned.label}`,
                "hours saved a week",
                "a year",
                "worth",
                "payback",
                "how much work",
              ].map((head) => (
                <th
                  scope="col"
                  key={head}
                  title={head === "hours saved a week" ? HOURS : undefined}
                  className="py-1 pr-3 font-normal"
                >
                  {head}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {others.map((row) => (
              <UpgradeRow
                key={row.setup_id}
                row={row}
                shown={row === shown}
                place={placeOf(row.setup_id)}
                onOpen={() => setOpened(row.setup_id)}
              />
            ))}
          </tbody>
        </table>
      </div>
      {shown && <TaskByTask slug={slug} viewer={viewer} shown={shown} owned={owned} />}
    </div>
  )
}

/** One run of each task on the owned machine and on another. */
function TaskByTask({
  slug,
  viewer,
  shown,
  owned,
}: {
  slug: string
  viewer: string
  shown: Schemas["PickRow"]
  owned: Schemas["PickRow"]
}) {
  const saved = useQuery(savedQuery(slug, viewer, shown.setup_id))
  return (
    <section className="text-13">
      <h3>
        One run of each task: {shown.label} compared with {owned.label}
      </h3>
      <Besides row={shown} />
      <ProblemNote error={saved.error} />
      <div className="overflow-x-auto">
        <table className="mt-1 w-full max-w-3xl min-w-120">
          <tbody>
            {saved.data?.map((task) => (
              <tr key={task.task_id} className="border-t border-line">
                <th scope="row" className="py-1 pr-3 text-left font-normal">
                  {task.task}
                </th>
                <td className="figure pr-3 text-right">{task.owned}</td>
                <td className="figure pr-3 text-right">{task.own}</td>
                <td className="figure pr-3 text-right">{seconds(task.saved_s)}</td>
                <td className="figure text-right text-mute">
                  {seconds(task.lo)} to {seconds(task.hi)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </section>
  )
}

/** One machine against the owned one. */
function UpgradeRow({
  row,
  shown,
  place,
  onOpen,
}: {
  row: Schemas["PickRow"]
  shown: boolean
  place: number
  onOpen: () => void
}) {
  return (
    <tr className="border-t border-line align-top">
      <th scope="row" className="py-1 pr-3 text-left">
        <button
          type="button"
          aria-pressed={shown}
          className={`flex items-center gap-1.5 text-left font-semibold ${
            shown ? "underline" : ""
          }`}
          onClick={onOpen}
        >
          <SetupMark index={place} size={11} />
          {row.label}
        </button>
      </th>
      <td className="pr-3">{row.upgrade?.words.hours}</td>
      <td className="pr-3">{row.upgrade?.words.year}</td>
      <td className="pr-3">
        {row.upgrade?.words.worth}
        <span className="block text-mute">after its price: {row.upgrade?.words.net_worth}</span>
      </td>
      <td className="pr-3">{row.upgrade?.words.payback}</td>
      <td>{row.upgrade?.words.break_even}</td>
    </tr>
  )
}

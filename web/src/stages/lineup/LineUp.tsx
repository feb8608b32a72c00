import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback, useEffect, useState } from "react"
import { lineupQuery, shootoutQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { StagePage } from "../../parts/StagePage"
import { subjectName } from "../../theme/subjects"
import { AddMachine } from "./AddMachine"
import { MachineNote } from "./MachineNote"
import { PasteSpecs } from "./PasteSpecs"
import { ShootoutFacts } from "./ShootoutFacts"
import { SpecSheet } from "./SpecSheet"

/** Machines side by side: specs, setups, prices. */
export function LineUp() {
  const { slug } = useParams({ from: "/s/$slug/lineup" })
  const { focus, machine } = useSearch({ from: "/s/$slug/lineup" })
  const navigate = useNavigate({ from: "/s/$slug/lineup" })
  const { data, error } = useQuery(lineupQuery(slug))
  const shootout = useQuery(shootoutQuery(slug)).data
  const [differing, setDiffering] = useState(false)
  const empty = data?.columns.length === 0
  // The form that an empty line-up opens with stays open for the machines that follow.
  const [stays, setStays] = useState(false)
  useEffect(() => {
    if (empty) setStays(true)
  }, [empty])
  const adding = focus === "add" || empty || stays
  const chosen = data?.columns.find((column) => column.machine.id === machine)

  const close = useCallback(() => {
    setStays(false)
    void navigate({ search: {} })
  }, [navigate])
  const open = (id: string) => void navigate({ search: { machine: id } })

  return (
    <>
      <StagePage
        title="Line-up"
        aside={shootout && `on trial: ${subjectName(shootout.subject)}`}
        tools={
          !empty && (
            <>
              <label className="flex items-center gap-2">
                only rows that differ
                <input
                  type="checkbox"
                  className="checkbox checkbox-xs"
                  checked={differing}
                  onChange={(event) => setDiffering(event.target.checked)}
                />
              </label>
              <button
                type="button"
                className="btn btn-sm"
                onClick={() => void navigate({ search: { focus: "paste" } })}
              >
                Paste specs
              </button>
              <button
                type="button"
                className="btn btn-primary btn-sm"
                onClick={() => void navigate({ search: { focus: "add" } })}
              >
                Add machine
              </button>
            </>
          )
        }
      >
        <ProblemNote error={error} />
        {empty && (
          <EmptyStage title="Start with the machines">
            <p>
              Name the machines that you will test. Specs and prices can follow later; a machine
              tested in two states (stock and raised clock, mains and battery) gets two setups.
            </p>
          </EmptyStage>
        )}
        {focus === "paste" && <PasteSpecs slug={slug} onClose={close} />}
        {adding && data && <AddMachine slug={slug} columns={data.columns} onClose={close} />}
        {data && !empty && (
          <SpecSheet slug={slug} lineup={data} differing={differing} onOpen={open} />
        )}
        {shootout && <ShootoutFacts shootout={shootout} />}
        {!data && !error && <p className="text-mute">Reading the line-up…</p>}
      </StagePage>
      {chosen && data && (
        <MachineNote
          key={chosen.machine.id}
          slug={slug}
          column={chosen}
          currency={data.currency}
          ids={data.columns.map((column) => column.machine.id)}
          onClose={close}
        />
      )}
    </>
  )
}

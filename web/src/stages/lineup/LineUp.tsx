import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback, useEffect, useState } from "react"
import { lineupQuery, shootoutQuery } from "../../api/queries"
import { EmptyStage } from "../../parts/EmptyStage"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { subjectName } from "../../theme/subjects"
import { AddMachine } from "./AddMachine"
import { AddRow } from "./AddRow"
import { Archived } from "./Archived"
import { MachineNote } from "./MachineNote"
import { PasteSpecs } from "./PasteSpecs"
import { RefreshPrices } from "./RefreshPrices"
import { RowNote } from "./RowNote"
import { ShootoutFacts } from "./ShootoutFacts"
import { SpecSheet } from "./SpecSheet"
import { namedSpecs, SHOWN, type Shown } from "./specs"

/** Machines side by side: specs, setups, prices. */
export function LineUp() {
  const { slug } = useParams({ from: "/s/$slug/lineup" })
  const { focus, machine, row } = useSearch({ from: "/s/$slug/lineup" })
  const navigate = useNavigate({ from: "/s/$slug/lineup" })
  const { data, error } = useQuery(lineupQuery(slug))
  const shootout = useQuery(shootoutQuery(slug)).data
  const [shown, setShown] = useState<Shown>(SHOWN[0])
  const [dropped, setDropped] = useState("")
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
    setDropped("")
    void navigate({ search: {} })
  }, [navigate])
  const open = (id: string) => void navigate({ search: { machine: id } })
  const chosenRow = data?.rows.find((each) => each.field === row)
  const drop = async (name: string, file: File) => {
    setDropped(namedSpecs(await file.text(), name))
    void navigate({ search: { focus: "paste" } })
  }

  return (
    <>
      <StagePage
        title="Line-up"
        aside={shootout && `on trial: ${subjectName(shootout.subject)}`}
        tools={
          !empty && (
            <>
              <label className="flex items-center gap-2">
                rows
                <select
                  className="select select-sm bg-page"
                  value={shown}
                  onChange={(event) =>
                    setShown(SHOWN.find((each) => each === event.target.value) ?? SHOWN[0])
                  }
                >
                  {SHOWN.map((each) => (
                    <option key={each}>{each}</option>
                  ))}
                </select>
              </label>
              <Writes>
                <button
                  type="button"
                  className="btn btn-sm"
                  onClick={() => void navigate({ search: { focus: "prices" } })}
                >
                  Refresh prices
                </button>

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
              </Writes>
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
        <Writes>
          {focus === "paste" && (
            <PasteSpecs key={dropped} slug={slug} given={dropped} onClose={close} />
          )}
          {focus === "prices" && <RefreshPrices slug={slug} onClose={close} />}
        </Writes>
        {adding && data && (
          <Writes>
            <AddMachine slug={slug} columns={data.columns} onClose={close} />
          </Writes>
        )}
        {data && !empty && (
          <>
            <SpecSheet
              slug={slug}
              lineup={data}
              shown={shown}
              onMachine={open}
              onRow={(field) => void navigate({ search: { row: field } })}
              onFile={(name, file) => void drop(name, file)}
            />
            <Writes>
              <AddRow slug={slug} />
            </Writes>
          </>
        )}
        {data && <Archived slug={slug} machines={data.archived} />}
        {shootout && <ShootoutFacts shootout={shootout} />}
        {!data && !error && <p className="text-mute">Reading the line-up…</p>}
      </StagePage>
      {chosenRow && <RowNote key={row} slug={slug} row={chosenRow} onClose={close} />}
      {chosen && data && (
        <MachineNote
          key={chosen.machine.id}
          slug={slug}
          column={chosen}
          rows={data.rows}
          setups={data.setups}
          currency={data.currency}
          priceDate={data.price_date}
          ids={data.columns.map((column) => column.machine.id)}
          onClose={close}
        />
      )}
    </>
  )
}

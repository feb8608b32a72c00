import { useQuery } from "@tanstack/react-query"
import { useNavigate, useParams, useSearch } from "@tanstack/react-router"
import { useCallback, useEffect, useState } from "react"
import type { Schemas } from "../../api/client"
import { lineupQuery, shootoutQuery } from "../../api/queries"
import { Corrections, FromRoom } from "../../parts/FromRoom"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { StagePage } from "../../parts/StagePage"
import { subjectName } from "../../theme/subjects"
import { AddRow } from "./AddRow"
import { Archived } from "./Archived"
import { FrozenPlan } from "./FrozenPlan"
import { FirstMachines, type Focus, Forms } from "./LineUpForms"
import { MachineNote } from "./MachineNote"
import { RowNote } from "./RowNote"
import { ShootoutFacts } from "./ShootoutFacts"
import { SpecSheet } from "./SpecSheet"
import { type Column, isShown, namedSpecs, SHOWN, type Shown } from "./specs"

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
  const focusOn = (what: Focus) => void navigate({ search: { focus: what } })
  const open = (id: string) => void navigate({ search: { machine: id } })
  const chosenRow = data?.rows.find((each) => each.field === row)
  const drop = async (name: string, file: File) => {
    setDropped(namedSpecs(await file.text(), name))
    focusOn("paste")
  }

  return (
    <>
      <StagePage
        title="Line-up"
        aside={shootout && `comparing: ${subjectName(shootout.subject)}`}
        tools={<Tools shown={empty ? null : shown} onShown={setShown} onFocus={focusOn} />}
      >
        <ProblemNote error={error} />
        {shootout && focus === "settings" && (
          <section aria-label="Settings" className="mb-6 border border-line bg-page p-4">
            <ShootoutFacts shootout={shootout} />
            <FrozenPlan slug={slug} />
            <button type="button" className="btn btn-sm mt-4" onClick={close}>
              Close settings
            </button>
          </section>
        )}
        <Corrections slug={slug} />
        {empty && <FirstMachines />}
        <Forms
          slug={slug}
          focus={focus}
          dropped={dropped}
          columns={adding ? data?.columns : undefined}
          onClose={close}
        />
        {adding && <FromRoom slug={slug} what="machines" />}
        {data && !empty && (
          <>
            <SpecSheet
              slug={slug}
              lineup={data}
              shown={shown}
              onMachine={open}
              onPrice={(id) => void navigate({ search: { machine: id, focus: "price" } })}
              onRow={(field) => void navigate({ search: { row: field } })}
              onFile={(name, file) => void drop(name, file)}
            />
            <div className="mt-3 flex flex-wrap items-start gap-3">
              <MoreRows rows={data.rows} shown={shown} onShown={setShown} />
              <Writes>
                <AddRow slug={slug} />
              </Writes>
            </div>
          </>
        )}
        {data && <Archived slug={slug} machines={data.archived} />}
        {!data && !error && <p className="text-mute">Reading the line-up…</p>}
      </StagePage>
      {chosenRow && <RowNote key={row} slug={slug} row={chosenRow} onClose={close} />}
      {chosen && data && <Machine slug={slug} column={chosen} lineup={data} onClose={close} />}
    </>
  )
}

/** Which rows are shown, and what can be brought in. */
function Tools({
  shown,
  onShown,
  onFocus,
}: {
  /** Null where there are no rows yet. */
  shown: Shown | null
  onShown: (shown: Shown) => void
  onFocus: (focus: Focus) => void
}) {
  const settings = (
    <button type="button" className="btn btn-ghost btn-sm" onClick={() => onFocus("settings")}>
      Settings
    </button>
  )
  if (shown === null) return settings
  return (
    <>
      <label className="flex items-center gap-2">
        rows
        <select
          className="select select-sm bg-page"
          value={shown}
          onChange={(event) =>
            onShown(SHOWN.find((each) => each === event.target.value) ?? SHOWN[0])
          }
        >
          {SHOWN.map((each) => (
            <option key={each}>{each}</option>
          ))}
        </select>
      </label>
      {settings}
      <Writes>
        <button type="button" className="btn btn-sm" onClick={() => onFocus("prices")}>
          Refresh prices
        </button>
        <button type="button" className="btn btn-sm" onClick={() => onFocus("paste")}>
          Paste specs
        </button>
        <button type="button" className="btn btn-primary btn-sm" onClick={() => onFocus("add")}>
          Add machine
        </button>
      </Writes>
    </>
  )
}

/** How many rows there are besides those that are shown, and the way to them. */
function MoreRows({
  rows,
  shown,
  onShown,
}: {
  rows: Schemas["LineUp"]["rows"]
  shown: Shown
  onShown: (shown: Shown) => void
}) {
  const hidden = rows.filter((each) => !isShown(each, shown)).length
  if (hidden === 0) return null
  return (
    <button type="button" className="btn btn-sm" onClick={() => onShown("all rows")}>
      Show all {rows.length} rows
    </button>
  )
}

/** The note of a machine, with what it needs of the whole line-up. */
function Machine({
  slug,
  column,
  lineup,
  onClose,
}: {
  slug: string
  column: Column
  lineup: Schemas["LineUp"]
  onClose: () => void
}) {
  return (
    <MachineNote
      key={column.machine.id}
      slug={slug}
      column={column}
      rows={lineup.rows}
      setups={lineup.setups}
      currency={lineup.currency}
      priceDate={lineup.price_date}
      ids={lineup.columns.map((each) => each.machine.id)}
      onClose={onClose}
    />
  )
}

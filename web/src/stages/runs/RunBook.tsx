import { defaultRangeExtractor, useVirtualizer } from "@tanstack/react-virtual"
import { useLayoutEffect, useMemo, useRef, useState } from "react"
import type { Schemas } from "../../api/client"
import { itemOf, LIST, named } from "../../parts/roles"
import { scrollerOf } from "../../parts/scrollerOf"
import { clock, compact, count } from "../../theme/format"
import { CellRow } from "./CellRow"
import { type Filter, flatRows, groupRuns, type Row, type TaskGroup } from "./cells"

const HEAD_PX = 48
const ROW_PX = 29
const WRAPPED_PX = 24
const RUNS_IN_ROW = 9
const OVERSCAN = 6

/**
 * Every run, grouped by task, then setup and round; a dot strip beside each cell. Only the
 * rows that are in view are drawn, so that a book of many thousand runs scrolls like a short one.
 */
export function RunBook({
  book,
  setups,
  tasks,
  rounds,
  filter,
  chosen,
  layout,
  onOpen,
}: {
  book: Schemas["BookInBrief"]
  setups: Schemas["Setup"][]
  tasks: Schemas["Task"][]
  rounds: Schemas["Round"][]
  filter: Filter
  /** Ids of the runs that are marked. */
  chosen: ReadonlySet<string>
  /** Changes whenever something above the book comes or goes. */
  layout: string
  onOpen: (id: string) => void
}) {
  const groups = useMemo(
    () => groupRuns(book, setups, tasks, rounds, filter),
    [book, setups, tasks, rounds, filter],
  )
  const rows = useMemo(() => flatRows(groups), [groups])
  const list = useRef<HTMLDivElement>(null)
  const above = useAbove(list, layout)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scrollerOf(list.current),
    estimateSize: (place) => likelySize(rows[place]),
    getItemKey: (place) => rows[place]?.key ?? place,
    overscan: OVERSCAN,
    scrollMargin: above,
    rangeExtractor: (range) => withRow(focusedRow(list.current), defaultRangeExtractor(range)),
  })
  return (
    <div>
      <div
        ref={list}
        {...named(LIST, `${count(book.runs.length, "run")} in ${count(rows.length, "row")}`)}
        className="relative"
        style={{ height: virtual.getTotalSize() }}
      >
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index]
          if (!row) return null
          return (
            <div
              key={item.key}
              ref={virtual.measureElement}
              {...itemOf(item.index, rows.length)}
              data-index={item.index}
              className="absolute top-0 left-0 w-full"
              style={{ transform: `translateY(${item.start - above}px)` }}
            >
              {row.kind === "head" ? (
                <GroupHead group={row.group} first={item.index === 0} />
              ) : (
                <CellRow
                  cell={row.cell}
                  group={row.group}
                  manyRounds={rounds.length > 1}
                  chosen={chosen}
                  onOpen={onOpen}
                />
              )}
            </div>
          )
        })}
      </div>
      {groups.length === 0 && book.runs.length > 0 && (
        <p className="text-mute">No run is like this.</p>
      )}
      {groups.length > 0 && (
        <p className="mt-4 text-13 text-mute">
          Each dot is a run. ○ not counted · ✕ failed · ◎ odd. Click a run to change it; nothing is
          ever deleted.
        </p>
      )}
    </div>
  )
}

/** Which row has the focus: it stays drawn, however far one scrolls. */
function focusedRow(list: HTMLElement | null): number | null {
  const row = document.activeElement?.closest<HTMLElement>("[data-index]")
  return row && list?.contains(row) ? Number(row.dataset.index) : null
}

/** A range of rows with one that is to stay. */
function withRow(row: number | null, range: number[]): number[] {
  if (row === null || range.includes(row)) return range
  return [...range, row].sort((a, b) => a - b)
}

/** How high a line will likely be, before it was drawn. */
function likelySize(row: Row | undefined): number {
  if (row?.kind !== "cell") return HEAD_PX
  return ROW_PX + WRAPPED_PX * (Math.ceil(row.cell.runs.length / RUNS_IN_ROW) - 1)
}

/** How far the list begins below the top of what scrolls. */
function useAbove(list: React.RefObject<HTMLDivElement | null>, changed: unknown): number {
  const [above, setAbove] = useState(0)
  // biome-ignore lint/correctness/useExhaustiveDependencies: what comes or goes above moves the list
  useLayoutEffect(() => {
    const scroller = scrollerOf(list.current)
    if (!list.current || !scroller) return
    const top = list.current.getBoundingClientRect().top - scroller.getBoundingClientRect().top
    const found = Math.round(top + scroller.scrollTop)
    setAbove(found)
  }, [list, changed])
  return above
}

function GroupHead({ group, first }: { group: TaskGroup; first: boolean }) {
  return (
    <h2
      className={`grid grid-cols-1 items-baseline gap-x-3 border-b border-base-content pb-0.5 text-15 lg:grid-cols-[minmax(0,1fr)_minmax(8.75rem,28%)] ${first ? "" : "pt-5"}`}
    >
      <span className="min-w-0 break-words">{group.task.name}</span>
      <Ends group={group} />
    </h2>
  )
}

function Ends({ group }: { group: TaskGroup }) {
  if (group.hi === 0) return <span />
  const write = (value: number) =>
    group.task.measure === "amount" ? compact(value) : clock(value, value < 20 ? 0.01 : 1)
  return (
    <span className="figure hidden justify-between text-12 font-normal text-mute lg:flex">
      <span>{write(group.lo)}</span>
      <span>{write(group.hi)}</span>
    </span>
  )
}

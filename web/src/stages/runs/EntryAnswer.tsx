import { useEffect, useRef } from "react"
import type { Schemas } from "../../api/client"
import { Doubt } from "../../parts/Doubt"
import { MovedCalls } from "../../parts/MovedCalls"
import { SPOKEN } from "../../reach/spoken"
import type { useEntry } from "./useEntry"

/** What the line means so far, or what must be answered before it is stored. */
export function EntryAnswer({ entry }: { entry: ReturnType<typeof useEntry> }) {
  const { reading, stored, asked } = entry
  const first = useRef<HTMLButtonElement>(null)
  useEffect(() => {
    if (asked) first.current?.focus()
  }, [asked])
  if (stored) return <Stored slug={entry.slug} stored={stored} />
  if (entry.noted)
    return (
      <p {...SPOKEN}>
        <strong>Saved.</strong> {entry.noted}
      </p>
    )
  if (!reading) return null
  const unknown = reading.unknown_setup ?? reading.unknown_task
  if (unknown) {
    return (
      <p {...SPOKEN}>
        <span className="text-accent">
          No {reading.unknown_setup ? "setup" : "task"} is called “{unknown}”.
        </span>{" "}
        <button ref={first} type="button" className="btn btn-xs" onClick={entry.addUnknown}>
          Add {unknown} {reading.unknown_setup ? "to the line-up" : "as a task"}
        </button>
      </p>
    )
  }
  if (reading.problem) {
    return (
      <p {...SPOKEN} className="text-accent">
        {reading.problem}
      </p>
    )
  }
  if (reading.ways.length > 0) {
    return (
      <fieldset className="flex flex-wrap items-center gap-2">
        <legend className="float-left mr-2 text-accent">{reading.asked}</legend>
        {reading.ways.map((way, place) => (
          <button
            key={way.line}
            ref={place === 0 ? first : undefined}
            type="button"
            className="btn btn-xs figure"
            onClick={() => entry.type(way.line)}
          >
            {way.name}
          </button>
        ))}
      </fieldset>
    )
  }
  if (reading.meanings.length > 0) {
    return (
      <fieldset className="flex flex-wrap items-center gap-2">
        <legend className="float-left mr-2 text-accent">
          {reading.typed} has two meanings. Which one? Nothing is stored until you choose.
        </legend>
        {reading.meanings.map((each, place) => (
          <button
            key={each.meaning}
            ref={place === 0 ? first : undefined}
            type="button"
            className="btn btn-xs"
            onClick={() => entry.choose(each.meaning === "clock" ? "clock" : "decimal")}
          >
            {each.words} ({each.meaning === "clock" ? "as a clock" : "as a decimal number"})
          </button>
        ))}
      </fieldset>
    )
  }
  return (
    <p {...SPOKEN} className="text-mute">
      {[
        reading.setup,
        reading.task,
        reading.value_words,
        reading.value_words && reading.note,
        reading.value_words && reading.ratio === null && reading.method,
      ]
        .filter(Boolean)
        .join(" · ")}
      {reading.status !== "ok" &&
        ` · ${reading.status}${reading.reason ? `: ${reading.reason}` : ""}`}
      {reading.ready ? (
        <span className="text-base-content">
          {reading.ratio === null
            ? ` · Enter saves it (round: ${reading.round})`
            : " · Enter notes it"}
        </span>
      ) : (
        reading.missing && ` · next: ${reading.missing}`
      )}
    </p>
  )
}

function Stored({ slug, stored }: { slug: string; stored: Schemas["StoredRun"] }) {
  if (stored.doubt) {
    return (
      <div {...SPOKEN}>
        <strong className="text-accent">Saved, but check it: {stored.doubt}</strong>{" "}
        <Doubt slug={slug} run={stored.run} />
      </div>
    )
  }
  return (
    <div {...SPOKEN}>
      <p>
        <strong>Saved.</strong> {stored.says}
      </p>
      <MovedCalls changes={stored.changes} />
    </div>
  )
}

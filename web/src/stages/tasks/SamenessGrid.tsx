import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import { timelineQuery } from "../../api/queries"
import { samenessQuery } from "../../api/tasks"
import { ProblemNote } from "../../parts/ProblemNote"
import { SetupMark } from "../../parts/SetupMark"
import { useSetupPlaces } from "../../parts/useSetupPlaces"
import { DifferenceList } from "./DifferenceList"
import type { Sheet } from "./job"
import { LookedAt } from "./LookedAt"
import { OutputNote } from "./OutputNote"
import { PlaybackNote, seenWords } from "./PlaybackNote"
import { SettingsNote } from "./SettingsNote"

type Row = Schemas["SetupSameness"]
type What = "timeline" | "settings" | "output" | "playback"
const SIGN: Record<string, string> = { same: "= ", differs: "≠ ", unknown: "? " }
const TITLES = { timeline: "edit", settings: "settings", output: "output", playback: "seen" }

/** Every setup against the task: same, differs or unknown; a cell opens what is behind it. */
export function SamenessGrid({ slug, sheet }: { slug: string; sheet: Sheet }) {
  const { task } = sheet
  const { data, error } = useQuery(samenessQuery(task.id))
  const [open, setOpen] = useState<{ setup: string; what: What } | null>(null)
  const placeOf = useSetupPlaces(slug)
  if (error) return <ProblemNote error={error} />
  if (!data) return <p className="mt-6 text-mute">Comparing…</p>
  const kinds: What[] = data.observed
    ? ["playback", "timeline"]
    : ["timeline", "settings", "output"]
  const chosen = data.rows.find((row) => row.setup_id === open?.setup)
  return (
    <section className="mt-8 max-w-3xl" aria-label="Same job">
      <h2 className="text-16">{data.observed ? "What was seen" : "The same job?"}</h2>
      <p className="mb-2 text-13 text-mute">
        {data.observed
          ? "The best preview quality that each setup held without dropped frames."
          : "The edit saved on each setup, the settings it exported with, and what came out: proved by a file or a note, or looked at by a person."}
      </p>
      <table className="w-full border-collapse text-14">
        <thead>
          <tr className="border-b border-base-content text-left text-13 text-mute">
            <th scope="col" className="py-1 font-normal">
              setup
            </th>
            {kinds.map((what) => (
              <th scope="col" key={what} className="w-20 py-1 font-normal sm:w-28">
                {TITLES[what]}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {data.rows.map((row) => (
            <tr key={row.setup_id} className="border-b border-line">
              <th scope="row" className="min-w-0 py-1 text-left font-normal">
                <span className="flex items-center gap-2">
                  <SetupMark index={placeOf(row.setup_id)} size={11} />
                  <span className="min-w-0 break-words">{row.label}</span>
                </span>
              </th>
              {kinds.map((what) => (
                <td key={what} className="py-1">
                  <Cell
                    row={row}
                    what={what}
                    open={open?.setup === row.setup_id && open.what === what}
                    onOpen={(now) => setOpen(now ? { setup: row.setup_id, what } : null)}
                  />
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {chosen && open && (
        <section aria-label={`${TITLES[open.what]} on ${chosen.label}`} className="mt-3">
          <h3 className="text-14">
            {chosen.label}: {TITLES[open.what]}
          </h3>
          {open.what === "timeline" && task.timeline_id && (
            <EditApart timelineId={task.timeline_id} setupId={chosen.setup_id} />
          )}
          {open.what === "settings" && (
            <SettingsNote key={chosen.setup_id} slug={slug} sheet={sheet} row={chosen} />
          )}
          {open.what === "output" && (
            <OutputNote key={chosen.setup_id} slug={slug} taskId={task.id} row={chosen} />
          )}
          {open.what === "playback" ? (
            <PlaybackNote key={chosen.setup_id} slug={slug} taskId={task.id} row={chosen} />
          ) : (
            <LookedAt
              key={`${chosen.setup_id} ${open.what}`}
              slug={slug}
              taskId={task.id}
              row={chosen}
              part={open.what}
            />
          )}
        </section>
      )}
    </section>
  )
}

function Cell({
  row,
  what,
  open,
  onOpen,
}: {
  row: Row
  what: What
  open: boolean
  onOpen: (open: boolean) => void
}) {
  const state = what === "playback" ? (row.playback ? "same" : "unknown") : row[what]
  if (state === "none") return <span className="text-mute">–</span>
  const words = what === "playback" && row.playback ? seenWords(row.playback) : state
  return (
    <button
      type="button"
      aria-expanded={open}
      aria-label={`${TITLES[what]} on ${row.label}: ${words}`}
      className={`text-left hover:underline ${state === "differs" ? "text-accent underline" : state === "unknown" ? "text-mute" : ""}`}
      onClick={() => onOpen(!open)}
    >
      {what !== "playback" && (SIGN[state] ?? "")}
      {words}
    </button>
  )
}

/** The two-sided list of an edit that differs, or what to do where nothing is known. */
function EditApart({ timelineId, setupId }: { timelineId: string; setupId: string }) {
  const { data } = useQuery(timelineQuery(timelineId))
  const file = data?.setups.find((each) => each.setup_id === setupId)?.file
  if (!data) return null
  if (!data.reference || !file) {
    return (
      <p className="text-mute">
        No file of this setup yet: import the timeline as saved on it, above.
      </p>
    )
  }
  if (file.fingerprint === data.reference.fingerprint) {
    return <p>{file.name} is the same edit, whatever its folders and its writer.</p>
  }
  return <DifferenceList timelineId={timelineId} reference={data.reference.id} file={file.id} />
}

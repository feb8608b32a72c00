import { useNavigate } from "@tanstack/react-router"
import { useArchiveShootout, useChangeShootout } from "../../api/changes"
import { Subject } from "../../api/choices"
import type { Schemas } from "../../api/client"
import { EditCell } from "../../parts/EditCell"
import { sendEdit } from "../../parts/editQueue"
import { ProblemNote } from "../../parts/ProblemNote"
import { useReading, Writes } from "../../parts/Reading"
import { compact, count, percent, readNumber, readWhole } from "../../theme/format"
import { subjectName } from "../../theme/subjects"
import { Prices, Series } from "./FactLines"

/** The shootout itself: its name and what it puts on trial, changed in place; its data pack. */
export function ShootoutFacts({ shootout }: { shootout: Schemas["Shootout"] }) {
  const change = useChangeShootout(shootout.slug)
  const archive = useArchiveShootout()
  const navigate = useNavigate()
  const edit = (changes: Omit<Schemas["ShootoutChange"], "version">) =>
    sendEdit(shootout.id, shootout.version, (version) =>
      change.mutateAsync({ version, ...changes }),
    )
  const reading = useReading()
  const rename = async (name: string) => {
    if (!name.trim()) return { saved: false as const, reason: "A shootout needs a name." }
    await edit({ name })
    return { saved: true as const }
  }
  return (
    <section className="mt-6 max-w-2xl">
      <h2 className="mb-1 text-14">This shootout</h2>
      <dl className="grid grid-cols-[6rem_minmax(0,1fr)] items-center border-t border-line">
        <dt className="text-13 text-mute">Name</dt>
        <dd className="min-w-0 border-b border-line">
          <EditCell
            label="Name of the shootout"
            shown={shootout.name}
            text={shootout.name}
            onSave={rename}
            theirs={(problem) => String(problem.current?.name ?? "")}
          />
        </dd>
        <dt className="text-13 text-mute">Comparing</dt>
        <dd className="border-b border-line py-1 pl-1">
          <select
            aria-label="What are you comparing?"
            disabled={reading}
            className="bg-transparent"
            value={shootout.subject}
            onChange={(event) => {
              const subject = Subject.find((each) => each === event.target.value)
              if (subject) void edit({ subject }).catch(() => undefined)
            }}
          >
            {Subject.map((each) => (
              <option key={each} value={each}>
                {subjectName(each)}
              </option>
            ))}
          </select>
        </dd>
        <dt className="text-13 text-mute">Planned</dt>
        <dd className="min-w-0 border-b border-line">
          <EditCell
            label="Runs planned"
            shown={plannedWords(shootout.planned_runs)}
            text={shootout.planned_runs === null ? "" : String(shootout.planned_runs)}
            onSave={async (text) => {
              const runs = text.trim() === "" ? null : (readWhole(text) ?? Number.NaN)
              if (runs !== null && !(Number.isInteger(runs) && runs >= 1 && runs <= 1000)) {
                return { saved: false, reason: "A whole number of runs; empty for no plan." }
              }
              await edit({ planned_runs: runs })
              return { saved: true }
            }}
            theirs={(problem) => String(problem.current?.planned_runs ?? "")}
          />
        </dd>
        <dt className="text-13 text-mute">Samples</dt>
        <dd className="min-w-0 border-b border-line">
          <EditCell
            label="How much samples of one model differ, per cent"
            shown={samplesWords(shootout.unit_prior_cv)}
            text={compact(100 * shootout.unit_prior_cv)}
            onSave={async (text) => {
              const per = readNumber(text.replace(/\s*%$/, ""))
              if (per === null || per < 0 || per > 50) {
                return { saved: false, reason: "Per cent from 0 to 50; 0 takes them for alike." }
              }
              await edit({ unit_prior_cv: per / 100 })
              return { saved: true }
            }}
            theirs={(problem) => String(problem.current?.unit_prior_cv ?? "")}
          />
        </dd>
        <dt className="text-13 text-mute">Prices in</dt>
        <Prices
          shootout={shootout}
          onChange={(changes) => void edit(changes).catch(() => undefined)}
        />
      </dl>
      <Series slug={shootout.slug} />
      <p className="mt-2">
        <a className="underline" href={`/api/v1/shootouts/${shootout.slug}/pack`} download>
          Download data pack
        </a>{" "}
        <span className="text-13 text-mute">CSV tables with every run and its history (.zip)</span>
      </p>
      <Writes>
        <p className="mt-2">
          <button
            type="button"
            className="btn btn-xs"
            onClick={() =>
              archive.mutate(
                { slug: shootout.slug, archived: true },
                { onSuccess: () => void navigate({ to: "/" }) },
              )
            }
          >
            Archive shootout
          </button>{" "}
          <span className="text-13 text-mute">
            Nothing is lost; find it again on the first page.
          </span>
        </p>
      </Writes>
      <ProblemNote error={change.error ?? archive.error} />
    </section>
  )
}

/** What was planned before any run: more runs than that are judged more strictly. */
function plannedWords(runs: number | null): string {
  return runs === null ? "no number of runs" : `${count(runs, "run")} of each setup on each task`
}

/** How much one sample of a model may differ from another, as Picks takes it. */
function samplesWords(cv: number): string {
  return cv === 0
    ? "of one model are treated as alike"
    : `of one model are assumed to differ by ${percent(cv)}`
}

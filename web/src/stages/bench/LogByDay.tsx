import { Link } from "@tanstack/react-router"
import { useState } from "react"
import { usePictureEntry, useWithdrawLogged } from "../../api/bench"
import type { Schemas } from "../../api/client"
import { PickFile } from "../../parts/PickFile"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { WithdrawForm } from "../../parts/WithdrawForm"
import { day } from "../../theme/format"
import type { Observed } from "./ObservedForm"
import { TrialForm } from "./TrialForm"
import { TroubleForm } from "./TroubleForm"

type Entry = Schemas["LogEntry"]

/** The log, newest first: nothing of it is ever deleted. */
export function LogByDay({
  slug,
  entries,
  observed,
}: {
  slug: string
  entries: Entry[]
  observed: Observed
}) {
  const days = [...new Set(entries.map((entry) => entry.day))]
  return (
    <section aria-label="Log by day" className="mt-8 border-t border-line pt-3">
      <h2 className="text-16">Day by day</h2>
      {days.map((each) => (
        <div key={each} className="mt-2">
          <h3 className="text-13 text-mute">{day(each)}</h3>
          <ul>
            {entries
              .filter((entry) => entry.day === each)
              .map((entry) => (
                <LogLine key={entry.id} slug={slug} entry={entry} observed={observed} />
              ))}
          </ul>
        </div>
      ))}
      <p className="mt-3 text-13 text-mute">
        Entries are never overwritten. A correction stands beside what it corrects.
      </p>
    </section>
  )
}

function LogLine({ slug, entry, observed }: { slug: string; entry: Entry; observed: Observed }) {
  const [doing, setDoing] = useState<"correct" | "withdraw" | null>(null)
  const gone = entry.withdrawn_why !== null
  const bad = entry.sort !== "trial" || ["stutters", "unusable"].includes(entry.grade ?? "")
  const close = { ...observed, onDone: () => setDoing(null) }
  const more = [
    entry.counts,
    entry.conditions,
    entry.timecode && `at ${entry.timecode}`,
    entry.fixed_in && `gone in ${entry.fixed_in}`,
  ].filter(Boolean)
  return (
    <li className="border-b border-line py-1.5 text-13">
      <span className={gone ? "text-mute line-through" : ""}>
        <strong>{entry.setup}</strong>{" "}
        <span className={bad && !gone ? "text-accent" : ""}>
          {entry.what}
          {entry.grade && `: ${entry.grade}`}
        </span>
        {more.length > 0 && `, ${more.join(", ")}`}
        {entry.note && `. ${entry.note}`}
      </span>
      <span className="text-mute">
        {" "}
        {(entry.task || entry.app) && "· "}
        {[entry.task, entry.app].filter(Boolean).join(", ")}
        {entry.version && ` ${entry.version}`} · {entry.who}
        {entry.corrects && ` · corrects “${entry.corrects}”`}
        {gone && ` · ${entry.withdrawn_why}`}
      </span>
      <Pictures pictures={entry.pictures} />
      {!gone && entry.sort !== "failure" && doing === null && (
        <Writes>
          <button
            type="button"
            className="ml-2 text-mute underline"
            onClick={() => setDoing("correct")}
          >
            Correct
          </button>
          <button
            type="button"
            className="ml-2 text-mute underline"
            onClick={() => setDoing("withdraw")}
          >
            Withdraw
          </button>
          <AttachPicture slug={slug} entry={entry} />
        </Writes>
      )}
      {entry.sort === "failure" && (
        <Link
          to="/s/$slug/runs"
          params={{ slug }}
          search={{ run: entry.id }}
          className="ml-2 text-mute underline"
        >
          See the run
        </Link>
      )}
      {doing === "correct" && entry.sort === "trial" && (
        <TrialForm slug={slug} observed={close} corrects={entry} />
      )}
      {doing === "correct" && entry.sort === "trouble" && (
        <TroubleForm slug={slug} observed={close} corrects={entry} />
      )}
      {doing === "withdraw" && <Withdraw slug={slug} entry={entry} onDone={() => setDoing(null)} />}
    </li>
  )
}

/** Small pictures of the screen; each opens in full. */
function Pictures({ pictures = [] }: { pictures: Entry["pictures"] }) {
  if (pictures.length === 0) return null
  return (
    <span className="my-1 flex flex-wrap gap-2">
      {pictures.map((each) => (
        <a key={each.id} href={`/api/v1/pictures/${each.id}`} target="_blank" rel="noreferrer">
          <img
            src={`/api/v1/pictures/${each.id}`}
            alt={`Attached: ${each.name}`}
            className="h-20 max-w-40 border border-line object-contain"
          />
        </a>
      ))}
    </span>
  )
}

function AttachPicture({ slug, entry }: { slug: string; entry: Entry }) {
  const picture = usePictureEntry(slug, entry.sort === "trial" ? "trials" : "troubles", entry.id)
  return (
    <>
      <PickFile label="Picture" accept="image/png,image/jpeg" onFile={picture.mutate} quiet />
      <ProblemNote error={picture.error} />
    </>
  )
}

function Withdraw({ slug, entry, onDone }: { slug: string; entry: Entry; onDone: () => void }) {
  const withdraw = useWithdrawLogged(slug, entry.sort === "trial" ? "trials" : "troubles")
  return (
    <WithdrawForm
      pending={withdraw.isPending}
      error={withdraw.error}
      onWithdraw={(why) => withdraw.mutate({ id: entry.id, why }, { onSuccess: onDone })}
      onDone={onDone}
    />
  )
}

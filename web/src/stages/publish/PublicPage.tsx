import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { publicQuery, usePublic } from "../../api/cards"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { useSentText } from "../../parts/useSentText"
import { day } from "../../theme/format"
import { Echoes, Editions } from "./Editions"
import { Register } from "./Register"
import { WebFolder } from "./WebFolder"

/** What strangers may read: numbered frozen editions behind secret links. */
export function PublicPage({ slug }: { slug: string }) {
  const stored = useQuery(publicQuery(slug))
  const change = usePublic(slug)
  const view = stored.data
  if (stored.error) return <ProblemNote error={stored.error} />
  if (!view) return <p>Loading…</p>
  return (
    <div className="max-w-3xl text-14">
      <p>
        <strong>Publish a read-only copy at a secret link.</strong>{" "}
        <span className="text-mute">
          Not published: your script, retired viewers and cards, archived machines, screenshots,
          names, and notes that begin with “private”.
        </span>
      </p>
      <Links view={view} change={change} />
      <NextEdition view={view} change={change} />
      <div className="mt-5">{view.editions.length > 0 && <Register slug={slug} />}</div>
      {view.editions.length > 0 && <WebFolder slug={slug} />}
      <Editions editions={view.editions} />
    </div>
  )
}

type Change = ReturnType<typeof usePublic>

/** The secret links that stand, and what they reach. */
function Links({ view, change }: { view: Schemas["PublicView"]; change: Change }) {
  const newest = view.editions[0]
  const standing = view.links.filter((link) => link.revoked_at === null)
  return (
    <section aria-label="Links" className="mt-4">
      <h2 className="text-14">Links</h2>
      {standing.length === 0 && (
        <p className="text-13 text-mute">
          {newest ? "Every link is turned off: nobody can read the page." : "None yet."}
        </p>
      )}
      <ul>
        {standing.map((link) => (
          <LinkLine key={link.id} link={link} onRevoke={() => change.mutate({ revoke: link.id })} />
        ))}
      </ul>
      {standing.length > 0 && ["127.0.0.1", "localhost"].includes(window.location.hostname) && (
        <p className="text-13 text-mute">
          Only this computer can open this link. To let others in your network read it, start with
          HOST=0.0.0.0.
        </p>
      )}
      {newest && (
        <Writes>
          <button
            type="button"
            className="mt-1 text-13 text-mute underline"
            onClick={() => change.mutate("link")}
          >
            Make another link
          </button>
        </Writes>
      )}
    </section>
  )
}

/** What the next edition would say, and the button that freezes it. */
function NextEdition({ view, change }: { view: Schemas["PublicView"]; change: Change }) {
  const { text: note, setText: setNote, sent } = useSentText()
  const newest = view.editions[0]
  const next = (newest?.number ?? 0) + 1
  const upToDate = newest !== undefined && view.waiting.length === 0
  const publish = () => change.mutate({ publish: note }, sent())
  return (
    <section aria-label="Next edition" className="mt-5">
      <h2 className="text-14">Edition {next}</h2>
      {newest && upToDate && (
        <p className="text-13">
          <strong>Edition {newest.number} is up to date.</strong>{" "}
          <span className="text-mute">A note to readers makes another one.</span>
        </p>
      )}
      {view.waiting.length > 0 && (
        <>
          <p className="text-13 text-mute">Changed since edition {newest?.number}:</p>
          <ul className="text-13">
            {view.waiting.map((line) => (
              <li key={line} className="border-t border-line py-1">
                {line}
              </li>
            ))}
          </ul>
        </>
      )}
      {view.echoes.length > 0 && <Echoes lines={view.echoes} />}
      <Writes>
        <label className="mt-2 block text-13 text-mute">
          {view.correction
            ? "What was wrong, and why? Readers see it."
            : "Note to readers (optional)"}
          <textarea
            className="textarea mt-0.5 w-full bg-page text-base-content"
            rows={2}
            maxLength={1000}
            value={note}
            onChange={(event) => setNote(event.target.value)}
          />
        </label>

        <ActButton
          type="button"
          className="btn btn-sm btn-primary mt-2 h-9"
          busy={change.isPending}
          needs={
            upToDate &&
            !note.trim() &&
            "Nothing has changed since; needs a note on why there is another edition."
          }
          onClick={publish}
        >
          {change.isPending ? "Publishing…" : publishes(view.correction, next)}
        </ActButton>
      </Writes>
      <ProblemNote error={change.error} />
    </section>
  )
}

function publishes(correction: boolean, next: number): string {
  return correction ? `Publish the correction as edition ${next}` : `Publish edition ${next}`
}

/** One secret link, to open or to revoke; revoking asks once more. */
function LinkLine({ link, onRevoke }: { link: Schemas["Link"]; onRevoke: () => void }) {
  const [sure, setSure] = useState(false)
  const path = `/p/${link.token}`
  return (
    <li className="flex flex-wrap items-center gap-x-3 gap-y-1 border-t border-line py-1.5">
      <a className="min-w-0 break-all underline" href={path} target="_blank" rel="noreferrer">
        {window.location.origin}
        {path}
      </a>
      <span className="text-13 text-mute">since {day(link.created_at)}</span>
      {sure ? (
        <span className="text-13">
          The link will stop working.{" "}
          <button type="button" className="text-accent underline" onClick={onRevoke}>
            Turn it off for good
          </button>{" "}
          <button type="button" className="underline" onClick={() => setSure(false)}>
            Cancel
          </button>
        </span>
      ) : (
        <Writes>
          <button
            type="button"
            className="text-13 text-mute underline"
            onClick={() => setSure(true)}
          >
            Turn off
          </button>
        </Writes>
      )}
    </li>
  )
}

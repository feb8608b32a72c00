import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { useInvite } from "../../api/people"
import { shootoutsQuery } from "../../api/queries"
import { ActButton } from "../../parts/ActButton"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import { day } from "../../theme/format"

const MEANS = {
  reader: "sees everything in it and changes nothing",
  editor: "works on it: runs, specs, tasks, scripts, devices",
  owner: "decides who else gets in, and what the world sees",
} as const

/** Makes an invitation and tells its link, once. */
export function Invite({ me }: { me: Schemas["Me"] }) {
  const invite = useInvite()
  const { data: shootouts } = useQuery(shootoutsQuery())
  const own = (shootouts ?? []).filter(
    (each) => me.owns_all || me.roles.some((r) => r.shootout_id === each.id && r.role === "owner"),
  )
  const [role, setRole] = useState<keyof typeof MEANS>("editor")
  const [where, setWhere] = useState(me.owns_all ? "" : (own[0]?.slug ?? ""))
  const [note, setNote] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    const shootout = where || (me.owns_all ? null : own[0]?.slug)
    invite.mutate({ role, ...(shootout ? { shootout } : {}), ...(note ? { note } : {}) })
  }
  return (
    <section aria-label="Invite somebody" className="mt-6">
      <h2 className="text-15">Invite somebody</h2>
      <form onSubmit={submit} className="mt-2 flex flex-wrap items-start gap-3">
        <div className="w-60">
          <TextField
            label="For whom"
            hint="their e-mail address, or a word to tell it by"
            maxLength={120}
            value={note}
            onText={setNote}
          />
        </div>
        <div className="w-44">
          <Field label="as" hint={MEANS[role]}>
            {(id, described) => (
              <select
                id={id}
                aria-describedby={described}
                className="select select-sm w-full bg-page"
                value={role}
                onChange={(event) => setRole(event.target.value as keyof typeof MEANS)}
              >
                {Object.keys(MEANS).map((each) => (
                  <option key={each}>{each}</option>
                ))}
              </select>
            )}
          </Field>
        </div>
        <Field label="of">
          {(id) => (
            <select
              id={id}
              className="select select-sm w-44 bg-page"
              value={where}
              onChange={(event) => setWhere(event.target.value)}
            >
              {me.owns_all && <option value="">all shootouts</option>}
              {own.map((each) => (
                <option key={each.id} value={each.slug}>
                  {each.name}
                </option>
              ))}
            </select>
          )}
        </Field>
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm mt-[1.375rem]"
          busy={invite.isPending}
        >
          Make the link
        </ActButton>
      </form>
      <ProblemNote error={invite.error} />
      {invite.data && <LinkTold made={invite.data} />}
    </section>
  )
}

/** A link that is told once, to be copied now. */
export function LinkTold({ made }: { made: Schemas["InvitationLink"] }) {
  const [copied, setCopied] = useState(false)
  const expires = made.view.invitations.find((each) => each.to === made.to)?.invitation.expires_at
  return (
    <div {...SPOKEN} className="mt-2 border-l-2 border-accent pl-3 text-13">
      <p>
        For {made.to}. Pass it on now: it is told once, is good once, until {day(expires)}.
      </p>
      <p className="mt-1 flex flex-wrap items-center gap-3">
        <code className="break-all select-all">{made.link}</code>
        <button
          type="button"
          className="btn btn-xs"
          onClick={() => void navigator.clipboard.writeText(made.link).then(() => setCopied(true))}
        >
          {copied ? "Copied" : "Copy"}
        </button>
      </p>
    </div>
  )
}

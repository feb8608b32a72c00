import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import type { Schemas } from "../../api/client"
import {
  peopleQuery,
  useEndAccount,
  useNewPasswordLink,
  useSetRole,
  useWithdrawInvitation,
} from "../../api/people"
import { ProblemNote } from "../../parts/ProblemNote"
import { day, moment } from "../../theme/format"
import { Invite, LinkTold } from "./Invite"

const ROLES = ["owner", "editor", "reader"] as const
type RoleName = (typeof ROLES)[number]

/** Everybody who gets in, what each may do, and who is invited; for owners. */
export function Members({ me }: { me: Schemas["Me"] }) {
  const { data, error } = useQuery(peopleQuery)
  const withdraw = useWithdrawInvitation()
  if (error) return <ProblemNote error={error} />
  if (!data) return <p className="mt-6">Reading who gets in…</p>
  const standing = data.members.filter((each) => each.account.ended_at === null)
  const ended = data.members.filter((each) => each.account.ended_at !== null)
  return (
    <>
      <section aria-label="Who gets in" className="mt-8">
        <h2 className="text-15">Who gets in</h2>
        <ul className="mt-1 border-t border-line">
          {standing.map((each) => (
            <Member key={each.account.id} member={each} me={me} />
          ))}
        </ul>
        {ended.length > 0 && (
          <p className="mt-2 text-13 text-mute">
            No longer: {ended.map((each) => each.account.name).join(", ")}. Their runs keep their
            names.
          </p>
        )}
      </section>
      <Invite me={me} />
      {data.invitations.length > 0 && (
        <section aria-label="Open invitations" className="mt-6">
          <h3 className="text-13 text-mute">Open invitations</h3>
          <ul className="border-t border-line text-13">
            {data.invitations.map(({ invitation: each, to }) => (
              <li
                key={each.id}
                className="flex flex-wrap items-center gap-x-3 border-b border-line py-1"
              >
                <span className="w-full break-words sm:w-auto sm:flex-1">
                  {each.note ? `${each.note}: ` : ""}
                  {to}
                </span>
                <span className="flex-1 text-mute sm:flex-none">
                  by {each.made_by}, until {day(each.expires_at)}
                </span>
                <button
                  type="button"
                  className="btn btn-xs"
                  aria-label={`Withdraw the invitation ${each.note ?? to}`}
                  onClick={() => withdraw.mutate(each.id)}
                >
                  Withdraw
                </button>
              </li>
            ))}
          </ul>
          <ProblemNote error={withdraw.error} />
        </section>
      )}
      {data.tries.length > 0 && <Tries tries={data.tries} />}
    </>
  )
}

function Member({ member, me }: { member: Schemas["Member"]; me: Schemas["Me"] }) {
  const { account, memberships } = member
  const setRole = useSetRole()
  const end = useEndAccount()
  const link = useNewPasswordLink()
  const [sure, setSure] = useState(false)
  return (
    <li className="border-b border-line py-2 text-14">
      <div className="flex flex-wrap items-baseline gap-x-3">
        <span className="font-bold">{account.name}</span>
        <span className="text-13 text-mute">{account.email}</span>
        {me.owns_all && (
          <span className="ml-auto flex gap-3 text-13">
            <button
              type="button"
              className="underline"
              aria-label={`Link to a new password for ${account.name}`}
              onClick={() => link.mutate(account.id)}
            >
              new password
            </button>
            <button
              type="button"
              className={sure ? "text-accent underline" : "underline"}
              aria-label={`End the account of ${account.name}`}
              onClick={() => (sure ? end.mutate(account.id) : setSure(true))}
              onBlur={() => setSure(false)}
            >
              {sure ? "end it: signed out, devices revoked" : "end account"}
            </button>
          </span>
        )}
      </div>
      <ul className="text-13">
        {memberships.map((each) => (
          <li key={each.id} className="flex items-center gap-2 py-0.5">
            <RoleSelect
              label={`${account.name} in ${each.shootout ?? "all shootouts"}`}
              value={each.role as RoleName}
              onRole={(role) => setRole.mutate({ person: account.id, role, ...inShootout(each) })}
            />
            <span className="min-w-0 break-words">of {each.shootout ?? "all shootouts"}</span>
          </li>
        ))}
        {memberships.length === 0 && <li className="text-mute">may see nothing</li>}
      </ul>
      {link.data && <LinkTold made={link.data} />}
      <ProblemNote error={setRole.error ?? end.error ?? link.error} />
    </li>
  )
}

/** Which shootout a role is about, as a request says it. */
function inShootout(each: Schemas["Membership"]): { shootout?: string } {
  return each.slug === null ? {} : { shootout: each.slug }
}

function RoleSelect({
  label,
  value,
  onRole,
}: {
  label: string
  value: RoleName
  onRole: (role: RoleName | null) => void
}) {
  return (
    <select
      aria-label={label}
      className="select select-xs w-28 bg-page"
      value={value}
      onChange={(event) => onRole((event.target.value || null) as RoleName | null)}
    >
      {ROLES.map((each) => (
        <option key={each}>{each}</option>
      ))}
      <option value="">take it away</option>
    </select>
  )
}

function Tries({ tries }: { tries: Schemas["SignInTry"][] }) {
  const wrong = tries.filter((each) => !each.worked).length
  return (
    <details className="mt-6 text-13">
      <summary className="cursor-pointer text-mute">
        The last {tries.length} tries to sign in{wrong > 0 && `, ${wrong} of them wrong`}
      </summary>
      <table className="mt-1 w-full">
        <thead className="text-left text-mute">
          <tr>
            <th scope="col" className="font-normal">
              when
            </th>
            <th scope="col" className="font-normal">
              account
            </th>
            <th scope="col" className="font-normal">
              from
            </th>
            <th scope="col" className="font-normal">
              outcome
            </th>
          </tr>
        </thead>
        <tbody>
          {tries.map((each) => (
            <tr key={`${each.at} ${each.email}`} className="border-t border-line">
              <td>{moment(each.at)}</td>
              <td className="break-all">{each.email}</td>
              <td>{each.address || "own account page"}</td>
              <td className={each.worked ? "" : "text-accent"}>
                {each.worked ? "signed in" : "wrong"}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </details>
  )
}

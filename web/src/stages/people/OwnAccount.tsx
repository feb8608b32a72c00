import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import type { Schemas } from "../../api/client"
import { problemOf } from "../../api/client"
import { signedInQuery, useChangePassword, useEndSignIn } from "../../api/people"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"
import { moment } from "../../theme/format"
import { OtherWays } from "./Passkeys"

/** One's own name, password, and the browsers in which one is signed in. */
export function OwnAccount({ me }: { me: Schemas["Me"] }) {
  return (
    <section aria-label="Your account">
      <div className="flex items-baseline gap-3">
        <h2 className="text-15">{me.name}</h2>
        <span className="text-13 text-mute">{roleOf(me)}</span>
        <form method="post" action="/sign-out" className="ml-auto">
          <button type="submit" className="btn btn-sm">
            Sign out
          </button>
        </form>
      </div>
      <SignedIn />
      <OtherWays />
      <NewPassword />
    </section>
  )
}

function roleOf(me: Schemas["Me"]): string {
  const all = me.roles.find((each) => each.shootout_id === null)
  if (all) return `${all.role} of all shootouts`
  return me.roles.length === 1
    ? `${me.roles[0]?.role} of one shootout`
    : `in ${me.roles.length} shootouts`
}

function SignedIn() {
  const { data, error } = useQuery(signedInQuery)
  const end = useEndSignIn()
  return (
    <>
      <h3 className="mt-4 text-13 text-mute">Signed in</h3>
      <ProblemNote error={error ?? end.error} />
      <ul className="border-t border-line text-13">
        {data?.map(({ signed_in: each, this: here }) => (
          <li
            key={each.id}
            className="flex flex-wrap items-center gap-x-3 border-b border-line py-1"
          >
            <span className="min-w-0 flex-1 break-words">
              {here ? "this browser" : browserName(each.browser)}
            </span>
            <span className="text-mute">
              {each.address} · seen {moment(each.seen_at)}
            </span>
            {!here && (
              <button
                type="button"
                className="btn btn-xs"
                aria-label={`Sign out ${browserName(each.browser)}`}
                onClick={() => end.mutate(each.id)}
              >
                Sign out there
              </button>
            )}
          </li>
        ))}
      </ul>
    </>
  )
}

/** What a browser says of its system; the rest is the same for all. */
function browserName(agent: string): string {
  return /\(([^)]*)\)/.exec(agent)?.[1] || agent || "a browser"
}

function NewPassword() {
  const change = useChangePassword()
  const [old, setOld] = useState("")
  const [fresh, setFresh] = useState("")
  const problem = problemOf(change.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    change.mutate(
      { old, new: fresh },
      {
        onSuccess: () => {
          setOld("")
          setFresh("")
        },
      },
    )
  }
  return (
    <details className="mt-4 text-13">
      <summary className="cursor-pointer text-mute">Change your password</summary>
      <form onSubmit={submit} className="mt-2 grid max-w-sm gap-3">
        <TextField
          label="As it is"
          type="password"
          autoComplete="current-password"
          required
          error={problem?.field === "old" ? problem.detail : null}
          value={old}
          onText={setOld}
        />
        <TextField
          label="As it shall be"
          hint="10 signs or more; a sentence will do"
          type="password"
          autoComplete="new-password"
          minLength={10}
          required
          error={problem && problem.field !== "old" ? problem.detail : null}
          value={fresh}
          onText={setFresh}
        />
        <ActButton type="submit" className="btn btn-sm w-fit" busy={change.isPending}>
          Change it and sign out everywhere else
        </ActButton>
        {change.isSuccess && <p {...SPOKEN}>Changed.</p>}
      </form>
    </details>
  )
}

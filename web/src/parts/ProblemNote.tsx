import type { ReactNode } from "react"
import { problemOf } from "../api/client"

/** Says what was wrong and what to do, beside the field that it is about. */
export function ProblemNote({
  error,
  id,
  children,
}: {
  /** Whatever was thrown; nothing is shown for none. */
  error: unknown
  /** For `aria-describedby` of the field. */
  id?: string
  /** Ways out, such as a button. */
  children?: ReactNode
}) {
  const problem = problemOf(error)
  if (problem === null) return null
  return (
    <div role="alert" id={id} className="mt-1 border-l-2 border-accent pl-2 text-13 text-accent">
      {problem.detail}
      <SignInLink error={error} />
      {children}
    </div>
  )
}

/** Where somebody is signed out: the way back to this very place. */
export function SignInLink({ error }: { error: unknown }) {
  if (problemOf(error)?.type !== "/problems/not-signed-in") return null
  const here = encodeURIComponent(window.location.pathname + window.location.search)
  return (
    <>
      {" "}
      <a className="underline" href={`/sign-in?next=${here}`}>
        Sign in
      </a>
    </>
  )
}

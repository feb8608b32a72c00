import { type FormEvent, useState } from "react"
import { problemOf } from "../../api/client"
import { useMakeRecoveryCodes } from "../../api/people"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { SPOKEN } from "../../reach/spoken"

/** Codes by which one gets in again without an owner; they are told once. */
export function RecoveryCodes({ left }: { left: number }) {
  const make = useMakeRecoveryCodes()
  const [password, setPassword] = useState("")
  const problem = problemOf(make.error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    make.mutate({ password }, { onSuccess: () => setPassword("") })
  }
  return (
    <>
      <h3 className="mt-4 text-13 text-mute">Recovery codes</h3>
      <p className="border-t border-line py-1 text-13">
        {left === 0
          ? "None. With a code you set a new password when yours is lost, without an owner."
          : `${left} left. Each sets a new password once.`}
      </p>
      {make.data && <CodesTold codes={make.data.codes} />}
      <details className="text-13">
        <summary className="cursor-pointer text-mute">
          {left === 0 ? "Make recovery codes" : "Make new ones; those before end"}
        </summary>
        <form onSubmit={submit} className="mt-2 grid max-w-sm gap-3">
          <TextField
            label="Your password, for the codes"
            type="password"
            autoComplete="current-password"
            required
            error={problem?.field === "password" ? problem.detail : null}
            value={password}
            onText={setPassword}
          />
          <ActButton type="submit" className="btn btn-sm w-fit" busy={make.isPending}>
            Make ten codes
          </ActButton>
          <ProblemNote error={problem?.field === "password" ? null : make.error} />
        </form>
      </details>
    </>
  )
}

function CodesTold({ codes }: { codes: readonly string[] }) {
  const [copied, setCopied] = useState(false)
  return (
    <div {...SPOKEN} className="mb-2 border-l-2 border-accent pl-3 text-13">
      <p>Write them down or print them now: they are told once.</p>
      <ol className="mt-1 grid gap-x-6 sm:grid-cols-2">
        {codes.map((code) => (
          <li key={code}>
            <code className="select-all">{code}</code>
          </li>
        ))}
      </ol>
      <button
        type="button"
        className="btn btn-xs mt-1"
        onClick={() =>
          void navigator.clipboard.writeText(codes.join("\n")).then(() => setCopied(true))
        }
      >
        {copied ? "Copied" : "Copy all"}
      </button>
    </div>
  )
}

import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import { problemOf, type Schemas } from "../../api/client"
import { useBeginPasskey, useEndPasskey, useFinishPasskey, waysQuery } from "../../api/people"
import { ActButton } from "../../parts/ActButton"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { day, moment } from "../../theme/format"
import { RecoveryCodes } from "./RecoveryCodes"

/** How one signs in besides by a password: passkeys, and recovery codes for when it is lost. */
export function OtherWays() {
  const { data, error } = useQuery(waysQuery)
  const end = useEndPasskey()
  if (error) return <ProblemNote error={error} />
  if (!data) return null
  return (
    <>
      <h3 className="mt-4 text-13 text-mute">Passkeys</h3>
      <ProblemNote error={end.error} />
      <ul className="border-t border-line text-13">
        {data.passkeys.map((each) => (
          <PasskeyLine key={each.id} passkey={each} onEnd={() => end.mutate(each.id)} />
        ))}
        {data.passkeys.length === 0 && (
          <li className="border-b border-line py-1 text-mute">
            None yet. With a passkey you sign in by your fingerprint, face or device code.
          </li>
        )}
      </ul>
      {data.can ? <NewPasskey /> : <CannotHave />}
      <RecoveryCodes left={data.codes_left} />
    </>
  )
}

function PasskeyLine({ passkey, onEnd }: { passkey: Schemas["Passkey"]; onEnd: () => void }) {
  const used = passkey.used_at === null ? "not used yet" : `used ${moment(passkey.used_at)}`
  return (
    <li className="flex flex-wrap items-center gap-x-3 border-b border-line py-1">
      <span className="min-w-0 flex-1 break-words">{passkey.name}</span>
      <span className="text-mute">
        made {day(passkey.made_at)} · {used}
      </span>
      <button
        type="button"
        className="btn btn-xs"
        aria-label={`End the passkey ${passkey.name}`}
        onClick={onEnd}
      >
        End
      </button>
    </li>
  )
}

function CannotHave() {
  return (
    <p className="mt-2 text-13 text-mute">
      To make one, open the app under a name (https://…, or localhost on its own machine): browsers
      make none for an address of numbers.
    </p>
  )
}

function NewPasskey() {
  const begin = useBeginPasskey()
  const finish = useFinishPasskey()
  const [name, setName] = useState("")
  const [password, setPassword] = useState("")
  const [failed, setFailed] = useState("")
  const problem = problemOf(begin.error)
  const make = async () => {
    setFailed("")
    const options = await begin.mutateAsync({ password })
    const credential = await createPasskey(options)
    await finish.mutateAsync({ name, credential })
    setName("")
    setPassword("")
  }
  const submit = (event: FormEvent) => {
    event.preventDefault()
    // What the server refused is shown at its field or below; the rest is the browser's answer.
    make().catch((error) => setFailed(error instanceof DOMException ? wordsOf(error) : ""))
  }
  return (
    <details className="mt-2 text-13">
      <summary className="cursor-pointer text-mute">Add a passkey</summary>
      <form onSubmit={submit} className="mt-2 grid max-w-sm gap-3">
        <TextField
          label="Name"
          hint="to tell it by, as “work laptop”"
          maxLength={80}
          required
          value={name}
          onText={setName}
        />
        <TextField
          label="Your password"
          type="password"
          autoComplete="current-password"
          required
          error={problem?.field === "password" ? problem.detail : null}
          value={password}
          onText={setPassword}
        />
        <ActButton
          type="submit"
          className="btn btn-sm w-fit"
          busy={begin.isPending || finish.isPending}
        >
          Make the passkey
        </ActButton>
        {failed && <p role="alert">{failed}</p>}
        <ProblemNote error={finish.error ?? (problem?.field === "password" ? null : begin.error)} />
      </form>
    </details>
  )
}

/** @param options as Web Authentication's own JSON form has them, which the API's does not say */
async function createPasskey(options: unknown) {
  const publicKey = PublicKeyCredential.parseCreationOptionsFromJSON(
    options as PublicKeyCredentialCreationOptionsJSON,
  )
  const made = (await navigator.credentials.create({ publicKey })) as PublicKeyCredential
  return made.toJSON() as Record<string, unknown>
}

/** Why a browser made no passkey, as far as it says. */
function wordsOf(error: DOMException): string {
  if (error.name === "InvalidStateError") return "This device has a passkey of yours already."
  if (error.name === "NotAllowedError") return "No passkey was made. Try again."
  return `This browser made no passkey: ${error.message}`
}

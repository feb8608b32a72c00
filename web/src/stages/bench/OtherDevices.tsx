import { useQuery } from "@tanstack/react-query"
import { type FormEvent, useState } from "react"
import {
  devicesQuery,
  useBringInLog,
  useMakeCode,
  useRevoke,
  useWatcherFile,
} from "../../api/bench"
import type { Schemas } from "../../api/client"
import { ActButton } from "../../parts/ActButton"
import { Fold } from "../../parts/Fold"
import { PickFile } from "../../parts/PickFile"
import { ProblemNote } from "../../parts/ProblemNote"
import { saveFile } from "../../parts/saveFile"
import { SPOKEN } from "../../reach/spoken"
import { count, moment } from "../../theme/format"

/** Lets a phone work on this bench: a code and its QR code, the list of devices, revoking. */
export function OtherDevices({ slug }: { slug: string }) {
  const { data, error } = useQuery(devicesQuery(slug))
  const make = useMakeCode(slug)
  const revoke = useRevoke(slug)
  const [open, setOpen] = useState(false)
  // A paired device itself is not told who else is.
  if (error || !data) return null
  const shut = data.addresses.length === 0
  return (
    <Fold title="Other devices">
      <section aria-label="Other devices" className="max-w-4xl">
        <div className="flex flex-wrap items-center gap-3">
          {shut ? (
            <p className="text-13 text-mute">
              A phone can be the second stopwatch. Start the app with{" "}
              <code className="figure text-base-content">make demo HOST=0.0.0.0</code> and pair it
              here. Only paired devices can connect.
            </p>
          ) : (
            <button
              type="button"
              className="btn btn-sm"
              onClick={() => {
                setOpen(true)
                make.mutate()
              }}
            >
              Pair a device
            </button>
          )}
        </div>
        <WatcherFile slug={slug} shut={shut} />
        <DeviceLogs slug={slug} />
        <ProblemNote error={make.error ?? revoke.error} />
        {open && make.data && (
          <Code shown={make.data} fingerprint={data.fingerprint} onClose={() => setOpen(false)} />
        )}
        {data.devices.length > 0 && (
          <ul className="mt-3 text-13">
            {data.devices.map((device) => (
              <li
                key={device.id}
                className="flex flex-wrap items-baseline gap-3 border-b border-line py-1"
              >
                <strong className={device.revoked_at ? "line-through" : ""}>{device.name}</strong>
                <span className="text-mute">
                  paired {moment(device.paired_at)}, last here {moment(device.seen_at)}
                </span>
                {device.revoked_at ? (
                  <span className="text-mute">revoked {moment(device.revoked_at)}</span>
                ) : (
                  <button
                    type="button"
                    className="text-accent underline"
                    onClick={() => revoke.mutate(device.id)}
                  >
                    Revoke
                  </button>
                )}
              </li>
            ))}
          </ul>
        )}
      </section>
    </Fold>
  )
}

/** The watcher as one file, for a machine that exports and has nothing of this app. */
function WatcherFile({ slug, shut }: { slug: string; shut: boolean }) {
  const make = useWatcherFile(slug)
  const [name, setName] = useState("")
  const submit = (event: FormEvent) => {
    event.preventDefault()
    make.mutate(name.trim() || "a watcher", {
      onSuccess: (file) => saveFile(file, "true-margin-watch.pyz"),
    })
  }
  return (
    <form onSubmit={submit} className="mt-3 border-t border-line pt-3">
      <p className="text-13 text-mute">
        For the machine that exports: the watcher in one file. It needs Python 3.9 or newer there
        and nothing else, knows this bench, and times every export by its file.
        {shut && " Until other devices are let in, it works on this machine only."}
      </p>
      <div className="mt-1 flex flex-wrap items-center gap-2">
        <input
          aria-label="Name of that machine"
          placeholder="Name of that machine"
          className="input input-sm w-56 bg-page"
          maxLength={60}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <ActButton type="submit" className="btn btn-sm" busy={make.isPending}>
          Save the watcher
        </ActButton>
        {make.isSuccess && (
          <span {...SPOKEN} className="text-13">
            Saved. Copy it there and start it:{" "}
            <code className="figure">python3 true-margin-watch.pyz</code>. Whoever has the file may
            time on this bench; revoke it below when the machine goes back.
          </span>
        )}
      </div>
      <ProblemNote error={make.error} />
    </form>
  )
}

/** The bench's events as a file, and the file of a device that was cut off. */
function DeviceLogs({ slug }: { slug: string }) {
  const bring = useBringInLog(slug)
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3 text-13">
      <PickFile label="Import a log" accept=".jsonl,.ndjson,.json" onFile={bring.mutate} />
      <a href={`/api/v1/shootouts/${encodeURIComponent(slug)}/bench/log`} className="underline">
        Save this bench’s log
      </a>
      {bring.data && (
        <span {...SPOKEN}>
          {count(bring.data.added, "run")} added, {count(bring.data.known, "run")} known already.
        </span>
      )}
      <ProblemNote error={bring.error} />
    </div>
  )
}

/** The code in large characters, and the QR code that holds its address. */
function Code({
  shown,
  fingerprint,
  onClose,
}: {
  shown: Schemas["CodeShown"]
  fingerprint: string | null
  onClose: () => void
}) {
  return (
    <div className="mt-3 flex flex-wrap items-start gap-6 border-y border-line py-3">
      <img
        alt={`QR code that opens ${shown.address}/pair with the code`}
        className="h-44 w-44 bg-white"
        src={shown.square}
      />
      <div className="min-w-64 flex-1">
        <p className="figure text-44 leading-13 font-bold tracking-[0.2em]">{shown.code}</p>
        <p>
          On the phone: photograph the QR code, or open{" "}
          <span className="figure">{shown.address}/pair</span> and type the code.
        </p>
        <p className="text-13 text-mute">
          Good for one device, until {moment(shown.expires_at)}. The browser will warn once: the
          certificate is this app’s own
          {fingerprint && (
            <>
              ; its fingerprint begins <span className="figure">{fingerprint.slice(0, 23)}</span>
            </>
          )}
          .
        </p>
        <button type="button" className="btn btn-sm mt-2" onClick={onClose}>
          Hide the code
        </button>
      </div>
    </div>
  )
}

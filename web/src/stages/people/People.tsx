import { useQuery } from "@tanstack/react-query"
import { useEffect } from "react"
import { meQuery } from "../../api/people"
import { HomeTop } from "../../frame/HomeTop"
import { ProblemNote } from "../../parts/ProblemNote"
import { Members } from "./Members"
import { OwnAccount } from "./OwnAccount"

/** Who gets in: one's own account, and for owners everybody else. */
export function People() {
  const { data: me, error } = useQuery(meQuery)
  useEffect(() => {
    document.title = "People · True Margin"
  }, [])
  const owns = me?.owns_all || me?.roles.some((each) => each.role === "owner")
  return (
    <>
      <HomeTop />
      <div className="mx-auto max-w-3xl px-4 py-4">
        <main>
          <h1 className="mt-8 mb-2 text-18">People</h1>
          <ProblemNote error={error} />
          {me && !me.signs_in && <NobodySignsIn />}
          {me?.kind === "person" && <OwnAccount me={me} />}
          {me?.signs_in && owns && <Members me={me} />}
        </main>
      </div>
    </>
  )
}

function NobodySignsIn() {
  return (
    <div className="max-w-xl text-14">
      <p>
        Only this computer can open True Margin, so there is no sign-in. Everything you do is
        recorded as “local person”.
      </p>
      <p className="mt-3">To work on it with others:</p>
      <ol className="mt-1 list-decimal pl-6">
        <li>
          make yourself owner: <code>true-margin invite</code> prints a link, good once,
        </li>
        <li>
          start it for others: <code>true-margin serve --sign-in --host 0.0.0.0</code>,
        </li>
        <li>open the link, and invite the others here.</li>
      </ol>
      <p className="mt-3 text-mute">
        A phone for the bench needs no account: Bench, then Pair a device. A proxy, several
        processes, backups: docs/operations.md.
      </p>
    </div>
  )
}

import { useQuery } from "@tanstack/react-query"
import { useEffect, useState } from "react"
import type { Problem } from "../api/client"

/** The first screen comes first. */
const BEGIN_MS = 3_000
const LOOK_MS = 60_000
const LOOK_AGAIN_MS = 5_000

/** Whether writes are taken: the server tries one; what is wrong is said in its own words. */
async function ask(): Promise<string | null> {
  const answer = await fetch("/api/v1/ready")
  // Read in any case: a body that nobody reads holds its connection.
  const told = (await answer.json().catch(() => null)) as Problem | null
  if (answer.status !== 503) return null
  return told?.detail ?? "Nothing can be stored right now."
}

/** Says on every screen that nothing can be stored, as long as that is so. */
export function Wellbeing() {
  const [begun, setBegun] = useState(false)
  useEffect(() => {
    const timer = setTimeout(() => setBegun(true), BEGIN_MS)
    return () => clearTimeout(timer)
  }, [])
  const { data } = useQuery({
    enabled: begun,
    queryKey: ["wellbeing"],
    queryFn: ask,
    refetchInterval: ({ state }) => (state.data ? LOOK_AGAIN_MS : LOOK_MS),
    retry: false,
  })
  if (!data) return null
  return (
    <p role="alert" className="border-b-2 border-accent bg-pick px-4 py-1.5 text-14">
      <strong>Nothing can be stored right now.</strong> {data} What you press on the bench is kept
      on this device until then.
    </p>
  )
}

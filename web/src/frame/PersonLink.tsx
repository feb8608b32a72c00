import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { meQuery } from "../api/people"
import { useReads } from "./useReads"

/** Who one is, where people sign in; leads to the account. With a shootout: reader, where one is. */
export function PersonLink({ shootoutId }: { shootoutId?: string | undefined }) {
  const { data: me } = useQuery(meQuery)
  const reads = useReads(shootoutId)
  if (me?.kind !== "person") return null
  return (
    <Link to="/people" className="max-w-40 shrink-0 truncate text-13 underline">
      {me.name}
      {reads && <span className="hidden md:inline"> (reader)</span>}
    </Link>
  )
}

import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { meQuery } from "../api/people"

/** Who one is, where people sign in; leads to the account. With a shootout: reader, where one is. */
export function PersonLink({ shootoutId }: { shootoutId?: string | undefined }) {
  const { data: me } = useQuery(meQuery)
  if (me?.kind !== "person") return null
  const found = me.roles.filter((each) => [null, shootoutId].includes(each.shootout_id))
  const reads = found.length > 0 && found.every((each) => each.role === "reader")
  return (
    <Link to="/people" className="max-w-40 shrink-0 truncate text-[13px] underline">
      {me.name}
      {reads && shootoutId ? " (reader)" : ""}
    </Link>
  )
}

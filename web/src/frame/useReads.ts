import { useQuery } from "@tanstack/react-query"
import { meQuery } from "../api/people"

/** Whether one only reads a shootout; null while that is not known yet. */
export function useReads(shootoutId: string | null | undefined): boolean | null {
  const me = useQuery(meQuery)
  if (me.isPending) return null
  // Who cannot be asked for is let try: what may not be done is refused anyway.
  if (me.data?.kind !== "person") return false
  if (!shootoutId) return null
  const found = me.data.roles.filter((each) => [null, shootoutId].includes(each.shootout_id))
  return found.length > 0 && found.every((each) => each.role === "reader")
}

import { useQuery } from "@tanstack/react-query"
import { meQuery } from "../api/people"

/** Whether one only reads a shootout; null stands for one that is not known yet. */
export function useReads(shootoutId: string | null | undefined): boolean {
  const { data: me } = useQuery(meQuery)
  if (me?.kind !== "person" || !shootoutId) return false
  const found = me.roles.filter((each) => [null, shootoutId].includes(each.shootout_id))
  return found.length > 0 && found.every((each) => each.role === "reader")
}

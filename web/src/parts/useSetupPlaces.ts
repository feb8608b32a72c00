import { useQuery } from "@tanstack/react-query"
import { lineupQuery } from "../api/queries"

/** Mark of each setup, by id; it stays when machines are put in another order. */
export function useSetupPlaces(slug: string): (id: string) => number {
  const { data } = useQuery(lineupQuery(slug))
  const places = new Map(data?.setups.map((setup) => [setup.id, setup.mark]))
  return (id) => places.get(id) ?? 0
}

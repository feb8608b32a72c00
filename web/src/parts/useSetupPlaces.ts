import { useQuery } from "@tanstack/react-query"
import { lineupQuery } from "../api/queries"

/** Place of each setup in the line-up, by id; its marker follows from it. */
export function useSetupPlaces(slug: string): (id: string) => number {
  const { data } = useQuery(lineupQuery(slug))
  const places = new Map(data?.setups.map((setup, place) => [setup.id, place]))
  return (id) => places.get(id) ?? 0
}

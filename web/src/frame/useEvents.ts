import { useEffect } from "react"
import type { Schemas } from "../api/client"
import { queryClient, refresh, sheetQuery } from "../api/queries"
import { benchOf } from "../lanes/bench"

/** The first screen comes first; then the page begins to listen. */
const BEGIN_MS = 1500
/** A change of one's own is on its way here already: it gets this long to arrive. */
const OWN_MS = 60

/** Follows a shootout: what another device changes is asked for as soon as it is kept. */
export function useEvents(slug: string): void {
  useEffect(() => {
    let source: EventSource | null = null
    const heard = (event: MessageEvent<string>) => {
      const revision = Number(event.data)
      setTimeout(() => {
        const known =
          queryClient.getQueryData<Schemas["RunSheet"]>(sheetQuery(slug).queryKey)?.revision ?? 0
        // 0 says that anything may have changed while nobody could listen.
        if (revision === 0 || revision > known) void refresh(slug)
        if (revision === 0) void benchOf(slug).catchUp()
      }, OWN_MS)
    }
    const timer = setTimeout(() => {
      source = new EventSource(`/api/v1/shootouts/${encodeURIComponent(slug)}/events`)
      source.addEventListener("revision", heard)
      // Many may come at once, each of which would draw the page anew before the next is heard.
      let told: Schemas["SharedLane"][] = []
      const take = () => {
        const lanes = told
        told = []
        benchOf(slug).receive(lanes)
      }
      source.addEventListener("lanes", (event: MessageEvent<string>) => {
        if (told.length === 0) setTimeout(take)
        told.push(...(JSON.parse(event.data) as Schemas["SharedLane"][]))
      })
      // What was pressed while nobody could listen.
      source.addEventListener("open", () => void benchOf(slug).catchUp())
    }, BEGIN_MS)
    return () => {
      clearTimeout(timer)
      source?.close()
    }
  }, [slug])
}

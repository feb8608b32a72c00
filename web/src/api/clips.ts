/** Clips: cards as films, made beside the work, and looked at before. */
import { useMutation } from "@tanstack/react-query"
import { useChange } from "./change"
import { api, calls, type Schemas, unwrap } from "./client"
import { at, queryClient } from "./queries"

export type ClipShape = Required<Omit<Schemas["NewClip"], "card_id">>

export const clipsQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/clips", at(slug), {
    // One that is being made is looked at twice a second.
    refetchInterval: ({ state }) =>
      state.data?.some((view) => view.clip.state === "running") ? 500 : false,
  })

const again = (slug: string) => ({
  onSettled: () => queryClient.invalidateQueries({ queryKey: clipsQuery(slug).queryKey }),
})

export const useStartClip = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/clips",
    (body: Schemas["NewClip"]) => ({ ...at(slug), body }),
    again(slug),
  )

export const useEndClip = (slug: string) =>
  useChange(
    "put",
    "/api/v1/shootouts/{slug}/clips/{clip_id}/ended",
    (clip_id: string) => ({ params: { path: { slug, clip_id } } }),
    again(slug),
  )

/** Where a finished film is. */
export const filmOf = (slug: string, id: string) => `/api/v1/shootouts/${slug}/clips/${id}/film`

const card = (slug: string, id: string) => `/api/v1/shootouts/${slug}/cards/${id}`

/** Where the sound of a clip is: a tick where each machine is done. */
export const ticksOf = (slug: string, id: string, asked: ClipShape) =>
  `${card(slug, id)}/ticks.wav?${new URLSearchParams(
    Object.entries(asked).map(([key, value]) => [key, String(value)]),
  )}`

/** Draws a clip to be looked at; gives it as an address of this page, so that it can be sought. */
export const usePreview = (slug: string, card_id: string) =>
  useMutation({
    mutationFn: async (asked: ClipShape) => {
      const film = await unwrap(
        calls.GET("/api/v1/shootouts/{slug}/cards/{card_id}/preview.webm", {
          params: { path: { slug, card_id }, query: asked },
          parseAs: "blob",
        }),
      )
      return URL.createObjectURL(film as Blob)
    },
  })

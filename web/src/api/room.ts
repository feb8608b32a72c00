/** The long memory: the store room, all-time rankings, series and the house. */
import { useChange } from "./change"
import { api, type Schemas } from "./client"
import { at, queryClient, refresh, STAYS } from "./queries"

const ROOM = "/api/v1/room"
export const roomQuery = api.queryOptions("get", ROOM)
export const standingQuery = api.queryOptions("get", "/api/v1/all-time")
export const houseQuery = api.queryOptions("get", "/api/v1/house")
export const allTimeQuery = (standing_id: string) =>
  api.queryOptions(
    "get",
    "/api/v1/all-time/{standing_id}",
    { params: { path: { standing_id } } },
    STAYS,
  )
export const historyQuery = (kept_id: string) =>
  api.queryOptions("get", "/api/v1/room/machines/{kept_id}/history", {
    params: { path: { kept_id } },
  })
export const worthQuery = (kept_id: string) =>
  api.queryOptions("get", "/api/v1/room/machines/{kept_id}/worth", {
    params: { path: { kept_id } },
  })
export const registerQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/published-figures", at(slug))
export const searchQuery = (q: string, enabled: boolean) => ({
  ...api.queryOptions("get", "/api/v1/search", { params: { query: { q } } }, STAYS),
  enabled,
})
export const takingQuery = (slug: string) =>
  api.queryOptions("get", "/api/v1/shootouts/{slug}/room", at(slug))

/** Asks again for what rests on the store room. */
const followRoom = () =>
  queryClient.invalidateQueries({
    predicate: ({ queryKey }) =>
      typeof queryKey[1] === "string" &&
      queryKey[1] !== ROOM &&
      /^\/api\/v1\/(room|all-time)|\/room$/.test(queryKey[1]),
  })

/** The store room as a change answers it; what rests on it is asked for again. */
const kept = {
  onSuccess: (room: Schemas["Room"]) => {
    queryClient.setQueryData(roomQuery.queryKey, room)
    void followRoom()
  },
}

/** One machine as a change answers it, put in its place; history and rankings are asked anew. */
const corrected = {
  onSuccess: (machine: Schemas["RoomMachine"]) => {
    queryClient.setQueryData<Schemas["Room"]>(
      roomQuery.queryKey,
      (room) =>
        room && {
          ...room,
          machines: room.machines.map((each) => (each.id === machine.id ? machine : each)),
        },
    )
    void followRoom()
  },
}

export const useKeep = () =>
  useChange("post", "/api/v1/room/kept", (body: Schemas["Kept"]) => ({ body }), kept)

export const useBringRoom = () =>
  useChange("post", "/api/v1/room/file", (text: string) => ({ body: { text } }), {
    onSuccess: () => {
      void queryClient.invalidateQueries({ queryKey: roomQuery.queryKey })
      void followRoom()
    },
  })

export const useAddRoomMachine = () =>
  useChange("post", "/api/v1/room/machines", (body: Schemas["NewRoomMachine"]) => ({ body }), kept)

export const useChangeRoomMachine = () =>
  useChange(
    "patch",
    "/api/v1/room/machines/{kept_id}",
    ({ id, ...body }: Schemas["RoomMachineChange"] & { id: string }) => ({
      params: { path: { kept_id: id } },
      body,
    }),
    corrected,
  )

export const useNoteSpecs = () =>
  useChange(
    "post",
    "/api/v1/room/machines/{kept_id}/specs",
    ({ id, ...body }: Schemas["RoomSpecs"] & { id: string }) => ({
      params: { path: { kept_id: id } },
      body,
    }),
    corrected,
  )

export const useJoin = () =>
  useChange(
    "post",
    "/api/v1/room/machines/{kept_id}/joined",
    ({ id, into_id }: { id: string; into_id: string }) => ({
      params: { path: { kept_id: id } },
      body: { into_id },
    }),
    kept,
  )

export const useMoveSetups = () =>
  useChange("post", "/api/v1/room/setups", (body: Schemas["MovedSetups"]) => ({ body }), kept)

export const usePartTasks = () =>
  useChange("post", "/api/v1/room/tasks/parted", (body: Schemas["PartedTasks"]) => ({ body }), kept)

export const useChangeHouse = () =>
  useChange("patch", "/api/v1/house", (body: Schemas["HouseChange"]) => ({ body }), {
    onSuccess: (house: Schemas["House"]) => queryClient.setQueryData(houseQuery.queryKey, house),
    onSettled: () => void queryClient.invalidateQueries({ queryKey: houseQuery.queryKey }),
  })

const taken = (slug: string) => ({ onSuccess: () => refresh(slug) })

export const useTake = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/room/taken",
    (body: Schemas["Taken"]) => ({ ...at(slug), body }),
    taken(slug),
  )

export const useAnswerCorrection = (slug: string) =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/room/answers",
    (body: Schemas["CorrectionAnswer"]) => ({ ...at(slug), body }),
    taken(slug),
  )

export const useContinue = () =>
  useChange(
    "post",
    "/api/v1/shootouts/{slug}/continued",
    ({ slug, name }: { slug: string; name: string }) => ({ ...at(slug), body: { name } }),
    { onSuccess: () => void queryClient.invalidateQueries() },
  )

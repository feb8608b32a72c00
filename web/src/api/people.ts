/** Who is asking, who gets in, and with what. */
import { useChange } from "./change"
import { api, type Schemas } from "./client"
import { queryClient } from "./queries"

/** Who is asking; where nobody signs in it is the person at the machine. */
export const meQuery = api.queryOptions("get", "/api/v1/me", {}, { staleTime: 300_000 })

export const signedInQuery = api.queryOptions("get", "/api/v1/me/signed-in")

/** One's passkeys, and how many recovery codes are left. */
export const waysQuery = api.queryOptions("get", "/api/v1/me/ways")

/** Whoever was just invited shows up while the page is open. */
export const peopleQuery = api.queryOptions("get", "/api/v1/people", {}, { refetchInterval: 5000 })

/** Every change of who gets in answers with the list as it is then. */
const keep = (view: Schemas["PeopleView"]) => queryClient.setQueryData(peopleQuery.queryKey, view)
const kept = { onSuccess: keep }
const keptLink = { onSuccess: (made: Schemas["InvitationLink"]) => keep(made.view) }
const keptSignIns = {
  onSuccess: (list: Schemas["OwnSignIn"][]) =>
    queryClient.setQueryData(signedInQuery.queryKey, list),
}
const keptWays = {
  onSuccess: (ways: Schemas["Ways"]) => queryClient.setQueryData(waysQuery.queryKey, ways),
}
const of = (person_id: string) => ({ params: { path: { person_id } } })

export const useInvite = () =>
  useChange(
    "post",
    "/api/v1/people/invitations",
    (body: Schemas["NewInvite"]) => ({ body }),
    keptLink,
  )

export const useNewPasswordLink = () =>
  useChange("post", "/api/v1/people/{person_id}/new-password", of, keptLink)

export const useWithdrawInvitation = () =>
  useChange(
    "put",
    "/api/v1/people/invitations/{invitation_id}/withdrawn",
    (invitation_id: string) => ({ params: { path: { invitation_id } } }),
    kept,
  )

export const useSetRole = () =>
  useChange(
    "put",
    "/api/v1/people/{person_id}/role",
    ({ person, ...body }: Schemas["NewRole"] & { person: string }) => ({ ...of(person), body }),
    kept,
  )

export const useEndAccount = () => useChange("put", "/api/v1/people/{person_id}/ended", of, kept)

export const useEndSignIn = () =>
  useChange(
    "put",
    "/api/v1/me/signed-in/{signed_in_id}/ended",
    (signed_in_id: string) => ({ params: { path: { signed_in_id } } }),
    keptSignIns,
  )

export const useChangePassword = () =>
  useChange("put", "/api/v1/me/password", (body: Schemas["NewPassword"]) => ({ body }), keptSignIns)

export const useBeginPasskey = () =>
  useChange("post", "/api/v1/me/passkeys/begin", (body: Schemas["OwnPassword"]) => ({ body }), {})

export const useFinishPasskey = () =>
  useChange("post", "/api/v1/me/passkeys", (body: Schemas["NewPasskey"]) => ({ body }), keptWays)

export const useEndPasskey = () =>
  useChange(
    "put",
    "/api/v1/me/passkeys/{passkey_id}/ended",
    (passkey_id: string) => ({ params: { path: { passkey_id } } }),
    keptWays,
  )

export const useMakeRecoveryCodes = () =>
  useChange("post", "/api/v1/me/recovery-codes", (body: Schemas["OwnPassword"]) => ({ body }), {
    onSuccess: () => void queryClient.invalidateQueries({ queryKey: waysQuery.queryKey }),
  })

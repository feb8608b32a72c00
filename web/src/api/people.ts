import { queryOptions, useMutation } from "@tanstack/react-query"
import { api, type Schemas, unwrap } from "./client"
import { queryClient } from "./queries"

/** Who is asking; where nobody signs in it is the person at the machine. */
export const meQuery = queryOptions({
  queryKey: ["me"],
  queryFn: () => unwrap(api.GET("/api/v1/me")),
  staleTime: 300_000,
})

export const signedInQuery = queryOptions({
  queryKey: ["signed-in"],
  queryFn: () => unwrap(api.GET("/api/v1/me/signed-in")),
})

export const peopleQuery = queryOptions({
  queryKey: ["people"],
  queryFn: () => unwrap(api.GET("/api/v1/people")),
  // Whoever was just invited shows up while the page is open.
  refetchInterval: 5000,
})

/** Every change of who gets in answers with the list as it is then. */
const keep = (view: Schemas["PeopleView"]) => queryClient.setQueryData(["people"], view)
const keepLink = (made: Schemas["InvitationLink"]) => keep(made.view)

export function useInvite() {
  return useMutation({
    mutationFn: (body: Schemas["NewInvite"]) =>
      unwrap(api.POST("/api/v1/people/invitations", { body })),
    onSuccess: keepLink,
  })
}

export function useNewPasswordLink() {
  return useMutation({
    mutationFn: (person: string) =>
      unwrap(
        api.POST("/api/v1/people/{person_id}/new-password", {
          params: { path: { person_id: person } },
        }),
      ),
    onSuccess: keepLink,
  })
}

export function useWithdrawInvitation() {
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(
        api.PUT("/api/v1/people/invitations/{invitation_id}/withdrawn", {
          params: { path: { invitation_id: id } },
        }),
      ),
    onSuccess: keep,
  })
}

export function useSetRole() {
  return useMutation({
    mutationFn: ({ person, ...body }: Schemas["NewRole"] & { person: string }) =>
      unwrap(
        api.PUT("/api/v1/people/{person_id}/role", {
          params: { path: { person_id: person } },
          body,
        }),
      ),
    onSuccess: keep,
  })
}

export function useEndAccount() {
  return useMutation({
    mutationFn: (person: string) =>
      unwrap(
        api.PUT("/api/v1/people/{person_id}/ended", { params: { path: { person_id: person } } }),
      ),
    onSuccess: keep,
  })
}

export function useEndSignIn() {
  return useMutation({
    mutationFn: (id: string) =>
      unwrap(
        api.PUT("/api/v1/me/signed-in/{signed_in_id}/ended", {
          params: { path: { signed_in_id: id } },
        }),
      ),
    onSuccess: (list) => queryClient.setQueryData(["signed-in"], list),
  })
}

export function useChangePassword() {
  return useMutation({
    mutationFn: (body: Schemas["NewPassword"]) => unwrap(api.PUT("/api/v1/me/password", { body })),
    onSuccess: (list) => queryClient.setQueryData(["signed-in"], list),
  })
}

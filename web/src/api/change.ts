/** Changes by the API's own document: what a caller gives is turned into what is sent. */
import type { UseMutationResult } from "@tanstack/react-query"
import type { MaybeOptionalInit } from "openapi-fetch"
import type { MethodResponse } from "openapi-react-query"
import type { HttpMethod, PathsWithMethod } from "openapi-typescript-helpers"
import { useCallback, useRef } from "react"
import { api, type ProblemError } from "./client"
import { refresh } from "./queries"
import type { paths } from "./schema"

type Sent<M extends HttpMethod, P extends PathsWithMethod<paths, M>> = MaybeOptionalInit<
  paths[P],
  M
>
type Answer<M extends HttpMethod, P extends PathsWithMethod<paths, M>> = MethodResponse<
  typeof api,
  M,
  P
>
/** Given where there is nothing to say. */
// biome-ignore lint/suspicious/noConfusingVoidType: an argument that may be left out
export type Nothing = void
/** What follows on a change: once it is done, or once it is done or refused. */
type After<Data> = { onSuccess?: (data: Data) => unknown; onSettled?: () => unknown }
type Then = { onSuccess?: (data: never) => void; onError?: (error: Error) => void }

/**
 * A change of a screen.
 *
 * @param method in small letters, as `post`
 * @param path as the API's document writes it
 * @param sent turns what a caller gives into parameters and a body
 * @param after what follows on it
 */
export function useChange<M extends HttpMethod, P extends PathsWithMethod<paths, M>, Given>(
  method: M,
  path: P,
  sent: (given: Given) => Sent<M, P>,
  after: After<Answer<M, P>>,
) {
  const change = api.useMutation(method, path, after as object)
  const { mutate, mutateAsync } = change as unknown as UseMutationResult<
    Answer<M, P>,
    ProblemError,
    Sent<M, P>
  >
  // What is sent may follow what is shown; the two functions stay the same all the same.
  const latest = useRef(sent)
  latest.current = sent
  const send = useCallback(
    (given: Given, then?: { onSuccess?: (data: Answer<M, P>) => void } & Then) =>
      mutate(latest.current(given), then as object),
    [mutate],
  )
  const sendAndWait = useCallback(
    (given: Given) => mutateAsync(latest.current(given)),
    [mutateAsync],
  )
  return {
    data: change.data as Answer<M, P> | undefined,
    error: change.error as ProblemError | null,
    /** What was sent last. */
    variables: change.variables as Sent<M, P> | undefined,
    isPending: change.isPending,
    isError: change.isError,
    isSuccess: change.isSuccess,
    reset: change.reset,
    /** Sends it; what went wrong stands in `error`. */
    mutate: send,
    /** Sends it and waits; what went wrong is thrown. */
    mutateAsync: sendAndWait,
  }
}

/** Everything shown of a shootout is asked for again once a change is kept. */
export const followed = (slug: string) => ({ onSuccess: () => refresh(slug) })

/** The same where a change was refused, too: what stands may be another thing than what is shown. */
export const followedAnyway = (slug: string) => ({ onSettled: () => refresh(slug) })

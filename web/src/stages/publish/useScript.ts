import { useQuery } from "@tanstack/react-query"
import { useEffect, useRef, useState } from "react"
import { problemOf, type Schemas } from "../../api/client"
import { claimsQuery, scriptQuery, useKeepScript } from "../../api/publish"

const KEEP_AFTER_MS = 900
const CHECK_AFTER_MS = 60

const EMPTY: Schemas["ScriptCheck"] = { sentences: 0, claims: [], plain: [], english: true }

/** The version that an unkept text on this device builds on; null where there is none. */
function readBase(draftKey: string): number | null {
  const known = localStorage.getItem(`${draftKey}-on`)
  return known === null || localStorage.getItem(draftKey) === null ? null : Number(known)
}

function keepBase(draftKey: string, version: number): void {
  localStorage.setItem(`${draftKey}-on`, String(version))
}

/**
 * The script as it is typed: checked at once, kept a moment later. What was not kept yet stays
 * on this device, so that a closed tab loses nothing.
 */
export function useScript(slug: string) {
  const draftKey = `tm-script-${slug}`
  const stored = useQuery(scriptQuery(slug))
  const keep = useKeepScript(slug)
  const [text, setText] = useState<string | null>(() => localStorage.getItem(draftKey))
  const shown = text ?? stored.data?.text ?? ""
  const unkept = stored.data !== undefined && text !== null && text !== stored.data.text
  const version = useRef(readBase(draftKey))
  // What is typed builds on the text that it began with: another's change in the meantime is
  // asked about, never written over.
  if (stored.data && (!unkept || version.current === null)) version.current = stored.data.version

  const send = keep.mutate
  const failed = keep.isError
  useEffect(() => {
    if (!unkept || text === null || failed) return
    const timer = setTimeout(
      () =>
        send(
          { text, version: version.current ?? 0 },
          {
            onSuccess: (kept) => {
              version.current = kept.version
              keepBase(draftKey, kept.version)
            },
          },
        ),
      KEEP_AFTER_MS,
    )
    return () => clearTimeout(timer)
  }, [text, unkept, send, failed, draftKey])
  useEffect(() => {
    if (!unkept && stored.data) localStorage.removeItem(draftKey)
  }, [unkept, stored.data, draftKey])

  const claims = useClaims(slug, shown)
  const stands = problemOf(keep.error)?.current as { version?: number; text?: string } | undefined
  const check = shown.trim() === "" ? EMPTY : (claims.data ?? stored.data?.check ?? EMPTY)
  return {
    text: shown,
    check,
    claims: check.claims,
    /** Whether the claims are those of the text as it stands, not of one before it. */
    checked: claims.ofThis,
    stored,
    unkept,
    error: keep.error ?? claims.error,
    /** What stands on record where somebody else was faster. */
    stands: stands?.version === undefined ? null : stands,
    type: (next: string) => {
      setText(next)
      localStorage.setItem(draftKey, next)
      keepBase(draftKey, version.current ?? 0)
      if (keep.isError && stands === undefined) keep.reset()
    },
    keepMine: () => {
      if (stands?.version === undefined) return
      const read = stands.version
      version.current = read
      keep.mutate(
        { text: shown, version: read },
        {
          onSuccess: (kept) => {
            version.current = kept.version
          },
        },
      )
    },
    takeTheirs: () => {
      setText(null)
      version.current = null
      localStorage.removeItem(draftKey)
      keep.reset()
      void stored.refetch()
    },
  }
}

/** What the book says of a text, asked for once it has stood still for a moment. */
function useClaims(slug: string, text: string) {
  const [checking, setChecking] = useState<string | null>(null)
  useEffect(() => {
    const timer = setTimeout(() => setChecking(text), CHECK_AFTER_MS)
    return () => clearTimeout(timer)
  }, [text])
  const found = useQuery({
    ...claimsQuery(slug, checking ?? ""),
    enabled: checking !== null && checking.trim() !== "",
  })
  return { ...found, ofThis: checking === text && found.isSuccess && !found.isPlaceholderData }
}

import { useQuery } from "@tanstack/react-query"
import { overlaysQuery, useMakeOverlay, useRevokeOverlay } from "../../api/overlays"
import { ActButton } from "../../parts/ActButton"
import { Fold } from "../../parts/Fold"
import { ProblemNote } from "../../parts/ProblemNote"
import { leavePressed } from "../../reach/focus"
import { moment } from "../../theme/format"

/** Links to the running race on a clear background, for programs that record or stream. */
export function Overlays({ slug }: { slug: string }) {
  const links = useQuery(overlaysQuery(slug))
  const make = useMakeOverlay(slug)
  const revoke = useRevokeOverlay(slug)
  const open = links.data?.filter((link) => link.revoked_at === null) ?? []
  return (
    <Fold title="Show the race in a recording or stream">
      <p className="max-w-xl text-13 text-mute">
        A page with a clear background that shows these timers as they run, with their marks.
        Whoever has the link sees them and nothing else. Add <code>?size=48</code>,{" "}
        <code>&look=night</code> or <code>&most=4</code> for larger letters, another background,
        fewer timers.
      </p>
      <ul className="mt-2 max-w-xl text-13" aria-label="Links to the race">
        {open.map((link) => {
          const address = `${location.origin}/overlay/${link.token}`
          return (
            <li
              key={link.id}
              className="flex flex-wrap items-center gap-x-3 border-t border-line py-1.5"
            >
              <a
                className="min-w-0 flex-1 break-all underline"
                href={address}
                target="_blank"
                rel="noreferrer"
              >
                {address}
              </a>
              <span className="text-mute">{moment(link.created_at)}</span>
              <button
                type="button"
                className="underline"
                aria-label={`Turn off the link of ${moment(link.created_at)}`}
                onClick={() => revoke.mutate(link.id)}
              >
                Turn off
              </button>
            </li>
          )
        })}
      </ul>
      <ProblemNote error={links.error ?? make.error ?? revoke.error} />
      <ActButton
        type="button"
        className="btn btn-sm mt-2 h-8"
        busy={make.isPending}
        onClick={(event) => {
          leavePressed(event.currentTarget)
          make.mutate()
        }}
      >
        Make a link
      </ActButton>
    </Fold>
  )
}

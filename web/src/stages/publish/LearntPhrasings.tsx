import type { Schemas } from "../../api/client"
import { useForgetPhrasing } from "../../api/publish"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"

/** Ways of putting it that were confirmed once: read the same wherever they stand. */
export function LearntPhrasings({
  slug,
  learnt,
}: {
  slug: string
  learnt: Schemas["LearntPhrasing"][]
}) {
  const forget = useForgetPhrasing(slug)
  if (learnt.length === 0) return null
  return (
    <details className="mt-4 text-13">
      <summary className="text-mute underline">
        {learnt.length === 1 ? "1 phrasing" : `${learnt.length} phrasings`} learnt from you
      </summary>
      <ul className="mt-1">
        {learnt.map((each) => (
          <li key={each.pattern} className="flex gap-2 border-t border-line py-1">
            <span className="min-w-0 flex-1 break-words">
              “{each.pattern}” <span className="text-mute">is read as {each.says}</span>
            </span>
            <Writes>
              <button
                type="button"
                className="text-mute underline"
                aria-label={`Forget ${each.pattern}`}
                onClick={() => forget.mutate(each.pattern)}
              >
                Forget
              </button>
            </Writes>
          </li>
        ))}
      </ul>
      <ProblemNote error={forget.error} />
    </details>
  )
}

import type { Schemas } from "../../api/client"
import { useAnswerSentence } from "../../api/publish"
import { Writes } from "../../parts/Reading"

/** Sentences that claim nothing, to be looked through; those that a person said so of. */
export function PlainLines({ slug, lines }: { slug: string; lines: Schemas["PlainLine"][] }) {
  const answer = useAnswerSentence(slug)
  if (lines.length === 0) return null
  return (
    <details className="mt-4 text-13">
      <summary className="text-mute underline">
        {lines.length === 1 ? "1 sentence claims" : `${lines.length} sentences claim`} nothing
      </summary>
      <ul className="mt-1">
        {lines.map((each, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a sentence may stand twice.
          <li key={`${each.line} ${at}`} className="flex gap-2 border-t border-line py-1">
            <span className="figure text-mute">line {each.line}</span>
            <span className="min-w-0 flex-1 break-words">{each.text}</span>
            {each.said && (
              <Writes>
                <button
                  type="button"
                  className="text-mute underline"
                  onClick={() => answer.mutate({ key: each.key, text: each.text, claims: null })}
                >
                  Check it after all
                </button>
              </Writes>
            )}
          </li>
        ))}
      </ul>
    </details>
  )
}

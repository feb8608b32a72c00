import { useEffect, useState } from "react"
import { useSeeScript } from "../../api/publish"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { ClaimList } from "./ClaimList"
import { LearntPhrasings } from "./LearntPhrasings"
import { OfferedLines } from "./OfferedLines"
import { PlainLines } from "./PlainLines"
import { ScriptDesk } from "./ScriptDesk"
import { ScriptHead } from "./ScriptHead"
import { ScriptNames } from "./ScriptNames"
import { useScript } from "./useScript"

/** The script desk: each claim of the script checked against the book. */
export function ScriptView({ slug }: { slug: string }) {
  const script = useScript(slug)
  const see = useSeeScript(slug)
  const view = script.stored.data
  const { wait, leave } = useWhenChecked(script, (line, text) => {
    const open = script.claims.filter((each) => each.line === line && each.verdict !== "holds")
    // What was clicked may have been read of a text that was still being typed.
    const claim =
      open.find((each) => text === null || each.text === text) ??
      open.find((each) => each.text.startsWith(text ?? ""))
    if (!claim?.say) return
    const lines = script.text.split("\n")
    lines[line - 1] = saidInstead(lines[line - 1] ?? "", claim.text, claim.say)
    script.type(lines.join("\n"))
  })
  if (script.stored.error) return <ProblemNote error={script.stored.error} />
  if (!view) return <p>Loading…</p>
  const changed = script.claims.filter((each) => each.was !== null || each.was_figure !== null)
  return (
    <>
      <div className="mb-1 flex min-h-7 items-center justify-end gap-3">
        <span className="text-13 text-mute">
          {script.unkept ? (script.error ? "Not saved" : "Saving…") : "Saved"}
        </span>
        {changed.length > 0 && !script.unkept && (
          <Writes>
            <button
              type="button"
              className="btn btn-sm h-7"
              onClick={() => see.mutate(view.version)}
            >
              Seen: {changed.length} changed
            </button>
          </Writes>
        )}
      </div>
      <ProblemNote error={script.error ?? see.error}>
        {script.stands && (
          <span>
            {" "}
            <button type="button" className="underline" onClick={script.keepMine}>
              Save mine
            </button>{" "}
            <button type="button" className="underline" onClick={script.takeTheirs}>
              Use theirs
            </button>
          </span>
        )}
      </ProblemNote>
      <ScriptHead check={script.check} />
      <div className="grid gap-x-8 gap-y-4 lg:grid-cols-[minmax(0,1fr)_minmax(0,26rem)]">
        <div>
          <ScriptDesk
            text={script.text}
            claims={script.claims}
            plain={script.check.plain}
            onText={(text) => {
              leave()
              script.type(text)
            }}
            onAccept={(line) => wait(line, null)}
          />
          <Writes>
            <p className="mt-1 text-12 text-mute">
              Sentences without a mark were not checked: they claim nothing that could be found.
              Ctrl Enter puts in the corrected line.
            </p>
          </Writes>
        </div>
        <section aria-label="Claims">
          <h2 className="sr-only">Claims</h2>
          <ClaimList
            slug={slug}
            claims={script.claims}
            onSay={({ line, text }) => wait(line, text)}
          />
          <PlainLines slug={slug} lines={script.check.plain} />
          <LearntPhrasings slug={slug} learnt={view.learnt} />
          <ScriptNames slug={slug} view={view} />
        </section>
      </div>
      <OfferedLines
        view={view}
        onAdd={(line) => script.type(`${script.text.replace(/\n*$/, "\n")}${line}\n`)}
      />
    </>
  )
}

/**
 * Puts a line in once the text as it stands is checked: what was read of a text that is still
 * being typed may end in the middle of a sentence.
 */
function useWhenChecked(
  { checked }: { checked: boolean },
  put: (line: number, text: string | null) => void,
) {
  const [wanted, setWanted] = useState<{ line: number; text: string | null } | null>(null)
  useEffect(() => {
    if (wanted === null || !checked) return
    setWanted(null)
    put(wanted.line, wanted.text)
  }, [wanted, checked, put])
  return {
    wait: (line: number, text: string | null) => setWanted({ line, text }),
    /** Whoever types on does not want it any more. */
    leave: () => setWanted(null),
  }
}

/** A line with another sentence in place of one; its full stop is not doubled. */
function saidInstead(line: string, text: string, say: string): string {
  const at = line.indexOf(text)
  if (at < 0) return line
  const rest = line.slice(at + text.length)
  const ended = /[.!?]$/.test(say) && /^[.!?]/.test(rest)
  return line.slice(0, at) + say + (ended ? rest.slice(1) : rest)
}

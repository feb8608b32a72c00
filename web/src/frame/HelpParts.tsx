import { useState } from "react"
import { KeyCap } from "../parts/KeyCap"
import { setSingleKeys, singleKeysOn } from "../parts/useKeys"
import { QUESTIONS, WORDS } from "./words"

const KEYS: [string[], string][] = [
  [["G", "1…7"], "Go to a stage"],
  [["Ctrl", "K"], "Search or type a command"],
  [["Esc"], "Close"],
  [["Space"], "Bench: start the next timer that is ready"],
  [["A"], "Bench: start all timers that are ready"],
  [["C"], "Bench: count down from 3, then start all that are ready; again, call it off"],
  [["1 … 8"], "Bench: start or stop this timer; on other stages: stop it"],
  [["P"], "Bench: note how far it is, a reading, or what happened"],
  [["X"], "Bench: false start, start over"],
  [["U"], "Bench: undo the last press, within 10 s"],
  [["R"], "Bench: put a press back that was undone, within a minute"],
  [["↑", "↓"], "Bench: choose the timer that letters act on"],
  [["V"], "Bench: don’t count this run"],
  [["F"], "Bench: failed, with a reason"],
  [["?"], "Help"],
]
const PARTS = ["Questions", "Words", "Keys"] as const

/** The parts of the help, one at a time. */
export function HelpParts({ onClose }: { onClose: () => void }) {
  const [part, setPart] = useState<(typeof PARTS)[number]>("Questions")
  return (
    <div className="flex h-full flex-col">
      <div className="flex items-center gap-5 border-b border-line px-5 pt-4 pb-3">
        <h2 className="text-20">Help</h2>
        {PARTS.map((each) => (
          <button
            key={each}
            type="button"
            aria-pressed={part === each}
            className={`min-h-7 ${part === each ? "font-bold underline decoration-2 decoration-accent underline-offset-8" : "text-mute"}`}
            onClick={() => setPart(each)}
          >
            {each}
          </button>
        ))}
        <button type="button" className="btn btn-sm ml-auto" onClick={onClose}>
          Close
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-y-auto px-5 py-4">
        {part === "Questions" && <Questions />}
        {part === "Words" && <Words />}
        {part === "Keys" && <Keys />}
      </div>
    </div>
  )
}

function Questions() {
  return (
    <ul className="max-w-2xl">
      {QUESTIONS.map(([question, answer]) => (
        <li key={question}>
          <details name="question" className="fold border-b border-line py-1.5">
            <summary className="min-h-7 cursor-pointer font-head text-16 font-bold">
              {question}
            </summary>
            <p className="pt-1 pb-2 pl-4">{answer}</p>
          </details>
        </li>
      ))}
    </ul>
  )
}

function Words() {
  const [wanted, setWanted] = useState("")
  const sought = wanted.trim().toLocaleLowerCase()
  const found = WORDS.filter((pair) => pair.join(" ").toLocaleLowerCase().includes(sought))
  return (
    <>
      <input
        type="text"
        aria-label="Search words"
        placeholder="Search words"
        className="input input-sm mb-2 w-64 max-w-full"
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
      />
      <dl className="border-t border-line">
        {found.map(([word, meaning]) => (
          <div
            key={word}
            className="grid gap-x-4 border-b border-line py-1.5 sm:grid-cols-[11.25rem_minmax(0,1fr)]"
          >
            <dt className="font-semibold">{word}</dt>
            <dd className="text-mute">{meaning}</dd>
          </div>
        ))}
      </dl>
      {found.length === 0 && <p className="py-2 text-mute">No word says that.</p>}
    </>
  )
}

function Keys() {
  const [single, setSingle] = useState(singleKeysOn)
  return (
    <>
      <dl className="space-y-1.5">
        {KEYS.map(([keys, words]) => (
          <div key={words} className="flex items-center gap-2">
            <dt className="flex w-24 shrink-0 gap-1">
              {keys.map((key) => (
                <KeyCap key={key}>{key}</KeyCap>
              ))}
            </dt>
            <dd>{words}</dd>
          </div>
        ))}
      </dl>
      <label className="mt-4 flex items-center gap-2">
        <input
          type="checkbox"
          className="checkbox checkbox-sm"
          checked={single}
          onChange={(event) => {
            setSingleKeys(event.target.checked)
            setSingle(event.target.checked)
          }}
        />
        single keys are on
      </label>
    </>
  )
}

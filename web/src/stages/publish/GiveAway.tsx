import { useQuery } from "@tanstack/react-query"
import { useState } from "react"
import { textsQuery } from "../../api/cards"
import { ProblemNote } from "../../parts/ProblemNote"
import { localised } from "../../theme/format"
import { Reports } from "./Reports"

const TABLES = [
  { name: "results", words: "Results: every machine on every task, with 95 % intervals" },
  { name: "specs", words: "Specs: the whole sheet, with prices as tested" },
  { name: "prices", words: "Prices: every record with date and source" },
]
const FORMATS = [
  { kind: "csv", words: "CSV" },
  { kind: "xlsx", words: "XLSX" },
  { kind: "md", words: "Markdown" },
  { kind: "html", words: "HTML" },
]
const RATES = [23.976, 24, 25, 29.97, 30, 50, 59.94, 60]

/** Everything that leaves the house as a file or as text. */
export function GiveAway({ slug }: { slug: string }) {
  const texts = useQuery(textsQuery(slug))
  const base = `/api/v1/shootouts/${slug}`
  return (
    <div className="give">
      <section className="min-w-0" aria-label="Files">
        <h2 className="text-14">Tables</h2>
        <Tables base={base} />
        <h2 className="mt-5 text-14">Report</h2>
        <Reports slug={slug} />
        <CardTimeline base={base} />
        <h2 className="mt-5 text-14">Data pack</h2>
        <p className="text-13 text-mute">
          The whole shootout with history, files and viewers. It opens without True Margin and can
          be imported again. <strong>It includes private notes.</strong>
        </p>
        <a className="btn btn-sm mt-1 h-8" href={`${base}/pack`} download>
          Download data pack
        </a>
      </section>
      <section className="min-w-0" aria-label="Texts">
        <ProblemNote error={texts.error} />
        {texts.data && (
          <>
            <CopyText title="Description" text={texts.data.description} rows={16} />
            <CopyText title="Chapters" text={texts.data.chapters} rows={6} />
            <CopyText title="Method note" text={texts.data.method} rows={10} />
          </>
        )}
      </section>
    </div>
  )
}

/** A text to copy; it is worked out of the book and not edited here. */
function CopyText({ title, text, rows }: { title: string; text: string; rows: number }) {
  const [copied, setCopied] = useState(false)
  const copy = () =>
    void navigator.clipboard?.writeText(text).then(
      () => setCopied(true),
      () => setCopied(false),
    )
  return (
    <div className="mb-4">
      <div className="flex items-baseline gap-3">
        <h2 className="text-14">{title}</h2>
        <button type="button" className="text-13 underline" onClick={copy}>
          Copy {title.toLowerCase()}
        </button>
        <span className="text-12 text-mute" aria-live="polite">
          {copied ? "copied" : ""}
        </span>
      </div>
      <textarea
        readOnly
        aria-label={title}
        rows={rows}
        className="textarea mt-1 w-full bg-page text-13 leading-5"
        value={text}
      />
    </div>
  )
}

/** The tables in each format. */
function Tables({ base }: { base: string }) {
  return (
    <ul className="text-13">
      {TABLES.map((table) => (
        <li key={table.name} className="flex flex-wrap gap-x-3 border-t border-line py-1.5">
          <span className="min-w-0 flex-1 basis-52">{table.words}</span>
          {FORMATS.map((format) => (
            <a
              key={format.kind}
              className="underline"
              href={`${base}/tables/${table.name}.${format.kind}`}
              aria-label={`${table.name} as ${format.words}`}
              download
            >
              {format.words}
            </a>
          ))}
        </li>
      ))}
    </ul>
  )
}

/** The kept cards as a timeline for an editor. */
function CardTimeline({ base }: { base: string }) {
  const [rate, setRate] = useState("25")
  const [shape, setShape] = useState("wide")
  const [look, setLook] = useState("night")
  const select = "select select-sm bg-page text-base-content"
  return (
    <>
      <h2 className="mt-5 text-14">Cards on a timeline</h2>
      <p className="text-13 text-mute">
        Each card where the script speaks of it: OpenTimelineIO, a cut list (EDL), chapters, what is
        said (WebVTT), and the pictures, or the films that were made of this shape and background.
      </p>
      <div className="mt-1 flex flex-wrap items-end gap-2 text-13 text-mute">
        <label>
          Frames per second
          <select
            className={`${select} block w-24`}
            value={rate}
            onChange={(event) => setRate(event.target.value)}
          >
            {RATES.map((each) => (
              <option key={each} value={each}>
                {localised(String(each))}
              </option>
            ))}
          </select>
        </label>
        <label>
          Shape
          <select
            className={`${select} block w-24`}
            value={shape}
            onChange={(event) => setShape(event.target.value)}
          >
            <option value="wide">16:9</option>
            <option value="tall">9:16</option>
            <option value="square">1:1</option>
          </select>
        </label>
        <label>
          Background
          <select
            className={`${select} block w-24`}
            value={look}
            onChange={(event) => setLook(event.target.value)}
          >
            <option>day</option>
            <option>night</option>
            <option>clear</option>
          </select>
        </label>
        <a
          className="btn btn-sm h-8"
          href={`${base}/card-timeline.zip?shape=${shape}&look=${look}&rate=${rate}`}
          download
        >
          Download timeline
        </a>
      </div>
    </>
  )
}

import { useQuery } from "@tanstack/react-query"
import { reportsQuery, useEndReport, useStartReport } from "../../api/cards"
import { ActButton } from "../../parts/ActButton"
import { ProblemNote } from "../../parts/ProblemNote"
import { Writes } from "../../parts/Reading"
import { moment } from "../../theme/format"

/** Reports: made beside the work, with progress; finished ones stay to be saved. */
export function Reports({ slug }: { slug: string }) {
  const reports = useQuery(reportsQuery(slug))
  const start = useStartReport(slug)
  const end = useEndReport(slug)
  const all = reports.data ?? []
  const running = all.find((view) => view.report.state === "running")
  const file = (id: string, kind: string) =>
    `/api/v1/shootouts/${slug}/reports/${id}/report.${kind}`
  return (
    <div className="text-13">
      <p className="text-mute">
        Findings, cards, rankings, all pairs, fairness, updates, every run and the method, as one
        web page or PDF.
      </p>
      {running ? (
        <div className="my-1 flex items-center gap-3">
          <progress
            className="progress w-40"
            aria-label="Report"
            value={running.report.done}
            max={1}
          />
          <span className="min-w-0 flex-1">{running.report.step}</span>
          <Writes>
            <button
              type="button"
              className="underline"
              onClick={() => end.mutate(running.report.id)}
            >
              Stop
            </button>
          </Writes>
        </div>
      ) : (
        <Writes>
          <ActButton
            type="button"
            className="btn btn-sm my-1 h-8"
            busy={start.isPending}
            onClick={() => start.mutate()}
          >
            Make report
          </ActButton>
        </Writes>
      )}
      <ProblemNote error={reports.error ?? start.error ?? end.error} />
      <ul>
        {all
          .filter((view) => view.report.state !== "running")
          .map(({ report, outdated }) => (
            <li key={report.id} className="flex flex-wrap gap-x-3 border-t border-line py-1.5">
              <span className="min-w-0 flex-1">
                Report of {moment(report.created_at)}
                {report.state === "done" && outdated && (
                  <span className="text-accent"> · out of date: the runs have changed since</span>
                )}
                {report.state === "ended" && <span className="text-mute"> · stopped</span>}
                {report.problem && <span className="text-accent"> {report.problem}</span>}
              </span>
              {report.state === "done" && (
                <>
                  <a
                    className="underline"
                    href={file(report.id, "html")}
                    target="_blank"
                    rel="noreferrer"
                  >
                    Open
                  </a>
                  <a className="underline" href={file(report.id, "pdf")} download>
                    Download PDF
                  </a>
                </>
              )}
            </li>
          ))}
      </ul>
    </div>
  )
}

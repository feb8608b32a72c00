import { useQuery } from "@tanstack/react-query"
import { Link } from "@tanstack/react-router"
import { figuresQuery } from "../../api/margins"
import { ProblemNote } from "../../parts/ProblemNote"
import { NotePart, SideNote } from "../../parts/SideNote"
import { runValue } from "../../theme/format"

/** How the figures of one setup come about: formula, inputs, and what would sharpen each. */
export function FigureNote({
  slug,
  task,
  setup,
  onClose,
}: {
  slug: string
  task: string
  setup: string
  onClose: () => void
}) {
  const { data, error } = useQuery(figuresQuery(slug, task, setup))
  return (
    <SideNote
      title={data ? `Figures of ${data.label}, ${data.title}` : "Figures"}
      about={`${task} ${setup}`}
      onClose={onClose}
    >
      <ProblemNote error={error} />
      {data?.workings.map((working) => (
        <NotePart key={working.title} title={working.title}>
          <p className="font-head text-16 leading-5 font-bold">{working.value}</p>
          <p className="mt-1 text-13">{working.formula}</p>
          <ul className="mt-1 text-13 text-mute">
            {working.inputs.map((input) => (
              <li key={input}>{input}</li>
            ))}
          </ul>
          {working.limits && <p className="mt-1 text-13 text-accent">{working.limits}</p>}
        </NotePart>
      ))}
      {data && data.runs.length > 0 && (
        <NotePart title="Runs behind it">
          <ul className="flex flex-wrap gap-x-3 gap-y-0.5">
            {data.runs.map((run) => (
              <li key={run.id} className="figure text-13">
                <Link
                  to="/s/$slug/runs"
                  params={{ slug }}
                  search={{ run: run.id }}
                  className={
                    run.status === "ok" ? "underline decoration-line" : "text-mute line-through"
                  }
                >
                  {runValue(run, data.measure ?? "time")}
                </Link>
              </li>
            ))}
          </ul>
        </NotePart>
      )}
    </SideNote>
  )
}

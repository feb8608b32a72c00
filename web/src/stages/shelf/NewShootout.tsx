import { useNavigate } from "@tanstack/react-router"
import { type FormEvent, useState } from "react"
import { useMakeShootout } from "../../api/changes"
import { Subject } from "../../api/choices"
import { problemOf } from "../../api/client"
import { Field, TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { subjectName } from "../../theme/subjects"

/** Makes a shootout: what it is about, what is on trial, and the currency of its prices. */
export function NewShootout() {
  const [name, setName] = useState("")
  const [subject, setSubject] = useState<(typeof Subject)[number]>("machine")
  const [currency, setCurrency] = useState("EUR")
  const [planned, setPlanned] = useState("")
  const make = useMakeShootout()
  const navigate = useNavigate()
  const problem = problemOf(make.error)
  const badPlan = planned.trim() !== "" && !/^[1-9]\d{0,2}$/.test(planned.trim())
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!name.trim()) return
    make.mutate(
      {
        name,
        subject,
        currency: currency.trim().toUpperCase(),
        planned_runs: planned.trim() ? Number(planned) : null,
      },
      {
        onSuccess: ({ slug }) => void navigate({ to: "/s/$slug/lineup", params: { slug } }),
      },
    )
  }
  return (
    <form onSubmit={submit} className="space-y-3">
      <div className="flex flex-wrap items-end gap-3">
        <div className="min-w-0 grow basis-56">
          <TextField
            label="What do you want to find out?"
            value={name}
            onText={setName}
            maxLength={200}
            placeholder="Which laptop for the road?"
          />
        </div>
        <button
          type="submit"
          className="btn btn-primary btn-sm"
          disabled={make.isPending || !name.trim() || badPlan}
        >
          Start shootout
        </button>
      </div>
      <details open={problem !== null && problem?.field !== "name"}>
        <summary className="cursor-pointer text-[13px] text-mute">
          More: what is compared, currency, planned runs
        </summary>
        <div className="mt-2 flex flex-wrap items-start gap-3">
          <div className="w-44">
            <Field label="What are you comparing?">
              {(id) => (
                <select
                  id={id}
                  className="select select-sm w-full bg-page"
                  value={subject}
                  onChange={(event) =>
                    setSubject(Subject.find((each) => each === event.target.value) ?? "machine")
                  }
                >
                  {Subject.map((each) => (
                    <option key={each} value={each}>
                      {subjectName(each)}
                    </option>
                  ))}
                </select>
              )}
            </Field>
          </div>
          <div className="w-20">
            <TextField
              label="Currency"
              value={currency}
              onText={setCurrency}
              maxLength={3}
              error={problem?.field === "currency" ? "Three letters, such as EUR." : null}
            />
          </div>
          <div className="w-28">
            <TextField
              label="Planned runs"
              value={planned}
              onText={setPlanned}
              inputMode="numeric"
              placeholder="no plan"
              error={badPlan || problem?.field === "planned_runs" ? "A whole number." : null}
            />
          </div>
        </div>
      </details>
      {problem?.field !== "currency" && problem?.field !== "planned_runs" && (
        <div className="w-full">
          <ProblemNote error={make.error} />
        </div>
      )}
    </form>
  )
}

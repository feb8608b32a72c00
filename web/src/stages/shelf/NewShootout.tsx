import { useQuery } from "@tanstack/react-query"
import { useNavigate } from "@tanstack/react-router"
import { type FormEvent, useState } from "react"
import { useMakeShootout } from "../../api/changes"
import { Subject } from "../../api/choices"
import { problemOf } from "../../api/client"
import { shootoutsQuery } from "../../api/queries"
import { houseQuery, useContinue } from "../../api/room"
import { ActButton } from "../../parts/ActButton"
import { ChoiceField } from "../../parts/ChoiceField"
import { TextField } from "../../parts/Field"
import { ProblemNote } from "../../parts/ProblemNote"
import { subjectName } from "../../theme/subjects"

type Begins = { subject: (typeof Subject)[number]; currency: string; planned: string }

const FIRST: Begins = { subject: "machine", currency: "", planned: "" }
const isBad = (planned: string) => planned.trim() !== "" && !/^[1-9]\d{0,2}$/.test(planned.trim())

/** Makes a shootout: what it is about and what it begins with, or which one it goes on from. */
export function NewShootout() {
  const [name, setName] = useState("")
  const [begins, setBegins] = useState(FIRST)
  const [before, setBefore] = useState("")
  const make = useMakeShootout()
  const goOn = useContinue()
  const navigate = useNavigate()
  const error = make.error ?? goOn.error
  const problem = problemOf(error)
  const submit = (event: FormEvent) => {
    event.preventDefault()
    if (!name.trim()) return
    const opened = {
      onSuccess: ({ slug }: { slug: string }) =>
        void navigate({ to: "/s/$slug/lineup", params: { slug } }),
    }
    if (before) goOn.mutate({ slug: before, name }, opened)
    else {
      const { subject, currency, planned } = begins
      make.mutate(
        {
          name,
          subject,
          currency: currency.trim().toUpperCase() || null,
          planned_runs: planned.trim() ? Number(planned) : null,
        },
        opened,
      )
    }
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
        <ActButton
          type="submit"
          className="btn btn-primary btn-sm"
          busy={make.isPending || goOn.isPending}
          needs={
            !name.trim()
              ? "Needs a name."
              : isBad(begins.planned) && "Needs a whole number of runs."
          }
        >
          Start shootout
        </ActButton>
      </div>
      <details open={problem !== null && problem?.field !== "name"}>
        <summary className="cursor-pointer text-13 text-mute">
          More: what is compared, currency, planned runs, a series
        </summary>
        <div className="mt-2 flex flex-wrap items-start gap-3">
          <GoesOnFrom before={before} onBefore={setBefore} />
          {!before && <BeginsWith begins={begins} onBegins={setBegins} field={problem?.field} />}
        </div>
      </details>
      {problem?.field !== "currency" && problem?.field !== "planned_runs" && (
        <div className="w-full">
          <ProblemNote error={error} />
        </div>
      )}
    </form>
  )
}

/** The shootout whose machines, tasks, runs and viewers come along; none for a new start. */
function GoesOnFrom({ before, onBefore }: { before: string; onBefore: (slug: string) => void }) {
  const others = useQuery(shootoutsQuery()).data ?? []
  if (others.length === 0) return null
  return (
    <div className="w-full">
      <ChoiceField
        label="Goes on from"
        value={before}
        options={[
          { value: "", words: "no other one" },
          ...others.map((each) => ({ value: each.slug, words: each.name })),
        ]}
        onValue={onBefore}
        hint={
          before
            ? "Its settings, tasks, machines, runs and viewers come along; only what is new is left to time."
            : null
        }
      />
    </div>
  )
}

/** What a new start begins with; what is left empty is as the house has it. */
function BeginsWith({
  begins,
  onBegins,
  field,
}: {
  begins: Begins
  onBegins: (begins: Begins) => void
  /** Which one was refused. */
  field: string | undefined
}) {
  const house = useQuery(houseQuery).data
  const bad = isBad(begins.planned) || field === "planned_runs"
  return (
    <>
      <div className="w-44">
        <ChoiceField
          label="What are you comparing?"
          value={begins.subject}
          options={Subject.map((each) => ({ value: each, words: subjectName(each) }))}
          onValue={(value) =>
            onBegins({ ...begins, subject: Subject.find((each) => each === value) ?? "machine" })
          }
        />
      </div>
      <div className="w-20">
        <TextField
          label="Currency"
          value={begins.currency}
          onText={(currency) => onBegins({ ...begins, currency })}
          maxLength={3}
          placeholder={house?.currency ?? "EUR"}
          error={field === "currency" ? "Three letters, such as EUR." : null}
        />
      </div>
      <div className="w-28">
        <TextField
          label="Planned runs"
          value={begins.planned}
          onText={(planned) => onBegins({ ...begins, planned })}
          inputMode="numeric"
          placeholder={house?.planned_runs?.toString() ?? "no plan"}
          error={bad ? "A whole number." : null}
        />
      </div>
    </>
  )
}

import { useQuery } from "@tanstack/react-query"
import type { Schemas } from "../../api/client"
import { SAYINGS } from "../../api/labels"
import { tasksQuery } from "../../api/queries"

export type Said = Required<Schemas["ClaimSaid"]>

export type Code = keyof typeof SAYINGS

export const CHIP = "chip select select-sm h-8 w-auto min-w-0 max-w-full bg-page"

export function Saying({
  said,
  onChange,
}: {
  said: Said
  onChange: (part: Partial<Said>) => void
}) {
  return (
    <select
      aria-label="What is said"
      className={CHIP}
      value={`${said.denied ? "not " : ""}${said.says}`}
      onChange={(event) => {
        const denied = event.target.value.startsWith("not ")
        onChange({ says: event.target.value.replace(/^not /, ""), denied })
      }}
    >
      {Object.entries(SAYINGS).map(([code, each]) => (
        <option key={code} value={code}>
          {each.words}
        </option>
      ))}
      {said.denied && (
        <option value={`not ${said.says}`}>not so: {SAYINGS[said.says as Code].words}</option>
      )}
    </select>
  )
}

export function Setup({
  label,
  value,
  setups,
  onChange,
}: {
  label: string
  value: string | null | undefined
  setups: readonly { id: string; label: string }[]
  onChange: (id: string | null) => void
}) {
  return (
    <select
      aria-label={label}
      className={`${CHIP} ${value ? "" : "border-accent"}`}
      value={value ?? ""}
      onChange={(event) => onChange(event.target.value || null)}
    >
      {!value && <option value="">which machine?</option>}
      {setups.map((each) => (
        <option key={each.id} value={each.id}>
          {each.label}
        </option>
      ))}
    </select>
  )
}

export function Task({
  slug,
  said,
  onChange,
}: {
  slug: string
  said: Said
  onChange: (part: Partial<Said>) => void
}) {
  const tasks = useQuery(tasksQuery(slug)).data ?? []
  return (
    <>
      <span>on</span>
      <select
        aria-label="Task"
        className={CHIP}
        value={said.task ?? ""}
        onChange={(event) => onChange({ task: event.target.value || null })}
      >
        <option value="">all tasks together</option>
        {tasks
          .filter(({ task }) => task.measure !== "observation")
          .map(({ task }) => (
            <option key={task.id} value={task.id}>
              {task.name}
            </option>
          ))}
      </select>
    </>
  )
}

export function Figure({
  label,
  value,
  onChange,
}: {
  label: string
  value: string | null | undefined
  onChange: (text: string) => void
}) {
  return (
    <input
      aria-label={label}
      className="figure input input-sm h-8 w-20 bg-page"
      value={value ?? ""}
      onChange={(event) => onChange(event.target.value)}
    />
  )
}

import { useQuery } from "@tanstack/react-query"
import { useSetShootout } from "../api/changes"
import type { Schemas } from "../api/client"
import { lineupQuery } from "../api/queries"
import { useReading } from "../parts/Reading"
import { percent, plain } from "../theme/format"

const CONFIDENCES = [0.8, 0.9, 0.95, 0.99]
const MATERIALITIES = [0, 0.01, 0.02, 0.03, 0.05, 0.1]

/** Baseline, confidence and materiality; every figure follows them. */
export function SettingChips({
  shootout,
  baseline,
}: {
  shootout: Schemas["Shootout"]
  /** Setup that reads 1.00x now, chosen or not; null where there is none. */
  baseline: string | null
}) {
  const lineup = useQuery(lineupQuery(shootout.slug)).data
  const { mutate: set } = useSetShootout(shootout.slug)
  const reading = useReading()
  return (
    <div className="flex flex-col gap-3 xl:flex-row xl:items-center">
      <Chip label="compared with" title={`The baseline; it reads ${plain(1, 2)}×.`}>
        <select
          aria-label="Baseline"
          disabled={reading}
          className="w-28 truncate bg-transparent font-bold"
          value={baseline ?? ""}
          onChange={(event) => set({ baseline_setup_id: event.target.value })}
        >
          {baseline === null && <option value="">none yet</option>}
          {lineup?.setups.map((setup) => (
            <option key={setup.id} value={setup.id}>
              {setup.label}
            </option>
          ))}
        </select>
      </Chip>
      <Chip
        label="confidence"
        title="How sure the intervals are: 95 % means that about 19 in 20 contain the true value."
      >
        <Numbers
          label="Confidence"
          value={shootout.confidence}
          offered={CONFIDENCES}
          onChange={(confidence) => set({ confidence })}
        />
      </Chip>
      <Chip
        label="ignore under"
        title="Differences smaller than this are treated as no difference."
      >
        <Numbers
          label="Ignore differences under"
          value={shootout.materiality}
          offered={MATERIALITIES}
          onChange={(materiality) => set({ materiality })}
        />
      </Chip>
    </div>
  )
}

function Chip({
  label,
  title,
  children,
}: {
  label: string
  title: string
  children: React.ReactNode
}) {
  return (
    <span
      title={title}
      className="flex h-7 items-center gap-1 border border-line px-2 text-13 whitespace-nowrap"
    >
      <span className="text-mute">{label}</span>
      {children}
    </span>
  )
}

function Numbers({
  label,
  value,
  offered,
  onChange,
}: {
  label: string
  value: number
  offered: number[]
  onChange: (value: number) => void
}) {
  const reading = useReading()
  const choices = offered.includes(value) ? offered : [...offered, value].sort((a, b) => a - b)
  return (
    <select
      aria-label={label}
      disabled={reading}
      className="bg-transparent font-bold"
      value={value}
      onChange={(event) => onChange(Number(event.target.value))}
    >
      {choices.map((choice) => (
        <option key={choice} value={choice}>
          {percent(choice)}
        </option>
      ))}
    </select>
  )
}

/** A viewer as it is being tried: the stored one with what was moved on the screen. */
import type { Schemas } from "../../api/client"

export type Viewer = Schemas["Viewer"]
export type Part = Required<Schemas["TaskForViewer"]>
export type Need = Schemas["ViewerNeed"]
export type Rule = "fastest" | "value" | "worth" | "enough"
/** Everything that may be tried; money as text, so that no digit is lost. */
export type Draft = {
  weekly: boolean
  rule: Rule
  currency: string
  region: string | null
  tax_percent: string | null
  budget: string | null
  owned_setup_id: string | null
  resale: string
  hour_value: string
  attended: number
  weeks: number
  horizon_years: number
  energy_price: string | null
  needs: Need[]
  tasks: Part[]
}
/** Tried prices by setup, as tested, in the viewer's currency. */
export type Prices = Record<string, string>
export const RULES: { id: Rule; title: string }[] = [
  { id: "fastest", title: "fastest within budget" },
  { id: "value", title: "best value" },
  { id: "worth", title: "most money saved over the years" },
  { id: "enough", title: "cheapest that is fast enough" },
]

/** Shortens stored money: 1500.000 becomes 1500. */
export function plainMoney(amount: string | number): string {
  const text = String(amount)
  return text.includes(".") ? text.replace(/0+$/, "").replace(/\.$/, "") : text
}

/** The viewer as it is stored, ready to be tried. */
export function draftOf(viewer: Viewer): Draft {
  const money = (amount: string | number | null) => (amount === null ? null : plainMoney(amount))
  return {
    weekly: viewer.weekly,
    rule: viewer.rule as Rule,
    currency: viewer.currency,
    region: viewer.region,
    tax_percent: money(viewer.tax_percent),
    budget: money(viewer.budget),
    owned_setup_id: viewer.owned_setup_id,
    resale: plainMoney(viewer.resale),
    hour_value: plainMoney(viewer.hour_value),
    attended: viewer.attended,
    weeks: viewer.weeks,
    horizon_years: viewer.horizon_years,
    energy_price: money(viewer.energy_price),
    needs: viewer.needs.map((need) => ({
      about: String(need.about),
      relation: need.relation as Need["relation"],
      value: typed(need.value),
    })),
    tasks: (viewer.tasks ?? []).map(({ task_id, weight, amount, by_run, accepted_s }) => ({
      task_id,
      weight,
      amount,
      by_run,
      accepted_s,
    })),
  }
}

/** A stored need's value as it would be typed. */
function typed(value: unknown): string | null {
  if (value === null || value === undefined) return null
  if (Array.isArray(value)) return value.join(", ")
  if (typeof value === "boolean") return value ? "yes" : "no"
  return String(value)
}

/** The part of one task; a task that was never mentioned counts for nothing. */
export function partOf(draft: Draft, task_id: string): Part {
  const found = draft.tasks.find((part) => part.task_id === task_id)
  return found ?? { task_id, weight: 0, amount: 0, by_run: false, accepted_s: null }
}

/** The draft with one task changed. */
export function withPart(draft: Draft, task_id: string, change: Partial<Part>): Draft {
  const part = { ...partOf(draft, task_id), ...change }
  const rest = draft.tasks.filter((each) => each.task_id !== task_id)
  return { ...draft, tasks: [...rest, part] }
}

/**
 * Gives one task a share of the mix, 0 to 1; the others keep their proportions in the rest, so
 * that the shares always sum to 1. Others that have nothing share the rest alike.
 */
export function withShare(draft: Draft, ids: string[], task_id: string, share: number): Draft {
  const others = ids.filter((id) => id !== task_id)
  const sum = others.reduce((total, id) => total + partOf(draft, id).weight, 0)
  const rest = 1 - share
  let next = withPart(draft, task_id, { weight: others.length === 0 ? 1 : share })
  for (const id of others) {
    const own = sum > 0 ? partOf(draft, id).weight / sum : 1 / others.length
    next = withPart(next, id, { weight: own * rest })
  }
  return next
}

/** Shares of the mix by task, summing to 1; all 0 where there is no weight. */
export function sharesOf(draft: Draft, ids: string[]): Map<string, number> {
  const sum = ids.reduce((total, id) => total + partOf(draft, id).weight, 0)
  return new Map(ids.map((id) => [id, sum > 0 ? partOf(draft, id).weight / sum : 0]))
}

/** What was changed against the stored viewer, as a change that can be sent. */
export function changesOf(stored: Draft, draft: Draft): Partial<Draft> {
  const changed: Partial<Draft> = {}
  for (const key of Object.keys(draft) as (keyof Draft)[]) {
    if (!same(stored[key], draft[key])) Object.assign(changed, { [key]: draft[key] })
  }
  return changed
}

function same(one: unknown, other: unknown): boolean {
  return JSON.stringify(sorted(one)) === JSON.stringify(sorted(other))
}

/** Tasks may stand in another order; a task that counts for nothing is as good as none. */
function sorted(value: unknown): unknown {
  if (!Array.isArray(value) || value.length === 0 || !("task_id" in Object(value[0]))) return value
  return (value as Part[])
    .filter((part) => part.weight !== 0 || part.amount !== 0 || part.accepted_s !== null)
    .map((part) => [part.task_id, part.weight, part.amount, part.by_run, part.accepted_s])
    .sort()
}

import type { Schemas } from "../../api/client"

const [WIDTH, HEIGHT, PAD] = [110, 26, 3]

/** The records of a machine's prices as a step line, oldest left; offers are left out. */
export function PriceSteps({ prices }: { prices: Schemas["Price"][] }) {
  const kept = prices
    .filter((price) => !price.until && price.currency === prices[0]?.currency)
    .sort((a, b) => a.dated.localeCompare(b.dated))
  if (kept.length < 2) return null
  const days = kept.map((price) => Date.parse(price.dated))
  const amounts = kept.map((price) => Number(price.amount))
  const [first, last] = [Math.min(...days), Math.max(...days)]
  const [low, high] = [Math.min(...amounts), Math.max(...amounts)]
  const x = (at: number) => PAD + ((WIDTH - 3 * PAD) * (at - first)) / Math.max(last - first, 1)
  const y = (amount: number) =>
    HEIGHT - PAD - ((HEIGHT - 2 * PAD) * (amount - low)) / Math.max(high - low, 1)
  const steps = kept.map((_, i) => `H${x(days[i] ?? first)} V${y(amounts[i] ?? low)}`)
  return (
    <svg width={WIDTH} height={HEIGHT} aria-hidden="true" className="mt-1 block max-w-full">
      <path
        d={`M${PAD} ${y(amounts[0] ?? low)} ${steps.join(" ")} H${WIDTH}`}
        fill="none"
        stroke="var(--color-base-content)"
        strokeWidth="1.5"
      />
    </svg>
  )
}

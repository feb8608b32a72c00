const LINES: Record<string, string> = {
  smooth: "M2 8H66",
  slow: "M2 8C8 8 9 3 14 3S21 13 27 13S36 5 42 5S50 9 56 8H66",
  stutters: "M2 8H66",
  unusable: "M2 8H66",
}
const DASHES: Record<string, string> = { stutters: "12 6", unusable: "1.5 8" }

/** A grade as a line of motion: straight, wavering, broken, or all but gone. */
export function GradeMark({ grade }: { grade: string }) {
  const bad = grade === "stutters" || grade === "unusable"
  return (
    <svg width="68" height="16" className="inline-block shrink-0" aria-hidden="true">
      <path
        d={LINES[grade] ?? LINES.smooth}
        fill="none"
        stroke={bad ? "var(--color-accent)" : "var(--color-base-content)"}
        strokeWidth="2.4"
        strokeLinecap={grade === "unusable" ? "round" : "butt"}
        strokeDasharray={DASHES[grade]}
      />
    </svg>
  )
}

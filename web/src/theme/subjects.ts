/** What a shootout can put on trial. */
export const SUBJECTS = [
  "machine",
  "processor",
  "graphics",
  "memory",
  "storage",
  "system",
  "app",
  "setting",
] as const

export type Subject = (typeof SUBJECTS)[number]

/** The subject as it reads after "on trial:". */
export function subjectName(subject: string): string {
  if (subject === "machine") return "the whole machine"
  if (subject === "system") return "the operating system"
  return `the ${subject}`
}

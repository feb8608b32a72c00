/** The subject as it reads after "on trial:". */
export function subjectName(subject: string): string {
  if (subject === "machine") return "the whole machine"
  if (subject === "system") return "the operating system"
  return `the ${subject}`
}

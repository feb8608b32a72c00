/** The closed choices of the job, as the core lists them; made by `make types`. */

/** What a number without a unit is, where a run yields a time. */
export const BareNumber = ["s", "min", "h", "minutes:seconds"] as const

/** What a card shows. */
export const CardKind = [
  "bar",
  "rule",
  "price",
  "pick",
  "spec",
  "progress",
  "feel",
  "race",
  "worth",
  "versions",
  "correction",
] as const

/** What is decided of a setup on a card. */
export const CardPart = ["order", "highlighted", "left_out"] as const

/** Which runs count after an inquiry. */
export const CountedRuns = ["before", "again", "both", "none"] as const

/** As what a figure was published. */
export const FigureKind = ["times as fast", "% faster", "% less time", "value"] as const

/** Why something was looked into: what the core finds, or anything else. */
export const InquiryKind = [
  "better loses",
  "app off its ratio",
  "tells nothing apart",
  "bridge disagrees",
  "carried over decides",
  "scatters more",
  "other",
] as const

/** How a job stands. */
export const JobState = ["running", "done", "failed"] as const

/** What a person says of the sameness of two things, or of one thing and its task. */
export const JudgedAs = ["looked at", "nearly the same", "not the same"] as const

/** What was looked at on a setup. */
export const JudgedPart = ["timeline", "settings", "output"] as const

/** Whose a machine of the store room is, and whether it can still be run. */
export const Keeping = ["owned", "lent", "sold", "gone"] as const

/** What a secret link opens. */
export const LinkOpens = ["page", "race"] as const

/** What is done in a task. */
export const Operation = [
  "export",
  "background render",
  "transcode",
  "stabilise",
  "denoise",
  "retime",
  "photo batch",
  "audio bounce",
  "app launch",
  "project load",
  "playback",
  "score",
  "other",
] as const

/** The best preview quality that was held without dropped frames, the best first. */
export const PlaybackQuality = ["full", "half", "quarter", "none"] as const

/** What kind of price a record is, in the order in which they fall back. */
export const PriceKind = ["list", "street", "paid", "used"] as const

/** How a value was obtained. */
export const ReadingMethod = [
  "stopwatch",
  "one press",
  "log",
  "watch",
  "recording",
  "remembered",
  "stated",
] as const

/** How a report stands. */
export const ReportState = ["running", "done", "failed", "ended"] as const

/** What somebody may do, the most first. */
export const Role = ["owner", "editor", "reader"] as const

/** By which rule a viewer picks. */
export const RuleName = ["fastest", "value", "worth", "enough"] as const

/** Standing of one attempt. */
export const RunStatus = ["ok", "void", "failed"] as const

/** What was decided about a result that somebody sent in. */
export const SentState = ["new", "accepted", "declined", "withdrawn", "erased"] as const

/** What is done in a step of an inquiry. */
export const StepKind = ["suspected", "changed", "tried again", "came out", "opened again"] as const

/** What a shootout puts on trial. */
export const Subject = [
  "machine",
  "processor",
  "graphics",
  "memory",
  "storage",
  "system",
  "app",
  "setting",
] as const

/** What a task yields; one that is looked at stands in no figure. */
export const TaskMeasure = ["time", "amount", "observation"] as const

/** How a trial went, the best first. */
export const TrialGrade = ["smooth", "slow", "stutters", "unusable"] as const

/** What of the edit itself is tried. */
export const TrialKind = [
  "scrub",
  "seek",
  "playback full",
  "playback half",
  "playback quarter",
  "page switch",
  "import",
  "fast forward",
  "import of stills",
  "own kind",
] as const

/** A fault worth telling that is not a time. */
export const TroubleKind = [
  "crash",
  "work lost",
  "wrong colours",
  "device fails",
  "other",
  "freeze",
  "wrong colours in preview",
  "device not found",
  "feature not available",
  "memory paged out",
  "out of graphics memory",
] as const

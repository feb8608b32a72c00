import type { Schemas } from "../../api/client"

/** A row of the table as it was read; where a time has two meanings, both are offered. */
export function ReadRow({
  row,
  onAnswer,
}: {
  row: Schemas["ImportRow"]
  onAnswer: (meaning: "clock" | "decimal") => void
}) {
  return (
    <tr className={`border-b border-line align-top ${row.problem ? "bg-pick" : ""}`}>
      <td className="max-w-40 py-1 pr-3 break-words text-mute">{row.where}</td>
      <td className="max-w-48 pr-3 py-1 break-words">{row.setup}</td>
      <td className="max-w-60 pr-3 py-1 break-words">{row.task}</td>
      <td className="pr-3 py-1">{row.round}</td>
      <td className="figure pr-3 py-1">{row.typed}</td>
      <td className="figure pr-3 py-1">{row.value_words}</td>
      <td className="pr-3 py-1">{row.method}</td>
      <td className="pr-3 py-1">{row.status}</td>
      <td className="py-1 text-accent">
        {row.problem}
        {row.meanings.map((each) => (
          <button
            key={each.meaning}
            type="button"
            className="btn btn-xs ml-2"
            onClick={() => onAnswer(each.meaning === "clock" ? "clock" : "decimal")}
          >
            {each.words}
          </button>
        ))}
      </td>
    </tr>
  )
}

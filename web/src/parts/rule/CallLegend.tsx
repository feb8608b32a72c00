import { RESULT } from "../../api/labels"
import { Jaws } from "./Jaws"
import { fitScale } from "./scale"

const CALLS: [string, string][] = [
  ["clear", RESULT.clear],
  ["ahead", `${RESULT.ahead}, perhaps by less than counts`],
  ["level", RESULT.level],
  ["open", RESULT.open],
]
const SCALE = fitScale([0.97, 1.12])

/** What the four fills mean. */
export function CallLegend() {
  return (
    <ul className="flex flex-wrap gap-x-6 gap-y-1 text-13 text-mute">
      {CALLS.map(([call, words]) => (
        <li key={call} className="flex items-center gap-2">
          <span className="relative inline-block h-5 w-12 overflow-hidden">
            <Jaws
              scale={SCALE}
              lo={call === "ahead" ? 1.005 : 1.0}
              hi={1.1}
              estimate={1.05}
              call={call}
              materiality={0.05}
              label=""
            />
          </span>
          {words}
        </li>
      ))}
    </ul>
  )
}

import { Writes } from "../../parts/Reading"
import { AcceptedTimes } from "./AcceptedTimes"
import { MoneyFields, NowFields } from "./MoneyFields"
import { Needs } from "./Needs"
import type { PicksState } from "./usePicks"
import { ViewerActions } from "./ViewerActions"
import { WorkRows } from "./WorkRows"

/** Who asks, and what they do, pay, own and need; everything here is tried at once. */
export function ViewerFields({ picks }: { picks: PicksState }) {
  const { slug, cards, viewer, draft, view, errorOf, setDraft, open } = picks
  const timed = picks.tasks
    .map((sheet) => sheet.task)
    .filter((task) => !task.superseded && task.measure !== "observation")
  return (
    <div className="picks-left">
      <div>
        <label className="block">
          <span className="block text-13 text-mute">Viewer</span>
          <select
            className="picks-viewer"
            value={viewer.id}
            onChange={(event) => open(event.target.value)}
          >
            {cards.map((each) => (
              <option key={each.viewer.id} value={each.viewer.id}>
                {each.viewer.name}
                {each.viewer.retired_at !== null ? " (retired)" : ""}
              </option>
            ))}
          </select>
        </label>
        <Writes>
          <ViewerActions slug={slug} cards={cards} viewer={viewer} onOpen={open} />
        </Writes>
      </div>
      <div className="picks-fields">
        <NowFields
          setups={picks.lineup.setups}
          draft={draft}
          errorOf={errorOf}
          onDraft={setDraft}
        />
        <WorkRows
          key={`work ${viewer.id}`}
          tasks={timed}
          draft={draft}
          error={errorOf("tasks")}
          onDraft={setDraft}
        />
        {draft.rule === "enough" && (
          <AcceptedTimes
            key={`accepted ${viewer.id}`}
            tasks={timed}
            draft={draft}
            error={errorOf("accepted")}
            onDraft={setDraft}
          />
        )}
        <MoneyFields draft={draft} errorOf={errorOf} onDraft={setDraft} />
        <Needs
          rows={picks.lineup.rows}
          words={view?.needs ?? []}
          draft={draft}
          error={errorOf("needs")}
          onDraft={setDraft}
        />
      </div>
    </div>
  )
}

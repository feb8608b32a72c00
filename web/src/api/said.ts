/**
 * What is said aloud once a change is kept, by the address that it was sent to; what goes both
 * ways at one address is just saved.
 */
import type { paths } from "./schema"

type Path = keyof paths & string

const SAID: Partial<Record<Path, string>> = {
  "/api/v1/shootouts": "Shootout made.",
  "/api/v1/shootouts/{slug}/machines": "Machine added.",
  "/api/v1/machines/{machine_id}/setups": "Setup added.",
  "/api/v1/machines/{machine_id}/prices": "Price added.",
  "/api/v1/machines/{machine_id}/archive": "Saved.",
  "/api/v1/machines/{machine_id}/retirement": "Saved.",
  "/api/v1/setups/{setup_id}/extras": "Extra added.",
  "/api/v1/free-rows/{row_id}/removal": "Row taken away.",
  "/api/v1/shootouts/{slug}/free-rows": "Row added.",
  "/api/v1/shootouts/{slug}/lineup/order": "Order saved.",
  "/api/v1/shootouts/{slug}/specs": "Specs saved.",
  "/api/v1/shootouts/{slug}/prices/refresh": "Prices saved.",
  "/api/v1/shootouts/{slug}/frozen-plan": "Plan frozen.",
  "/api/v1/shootouts/{slug}/tasks": "Task added.",
  "/api/v1/shootouts/{slug}/rounds": "Round added.",
  "/api/v1/shootouts/{slug}/rounds/merge": "Rounds read as one.",
  "/api/v1/tasks/{task_id}/copies": "Task added for another app.",
  "/api/v1/tasks/{task_id}/judgements": "Judgement saved.",
  "/api/v1/tasks/{task_id}/looks": "Saved that it was looked at.",
  "/api/v1/tasks/{task_id}/overrules": "Your word is saved.",
  "/api/v1/tasks/{task_id}/outputs": "Output added.",
  "/api/v1/tasks/{task_id}/ratios": "Ratio noted.",
  "/api/v1/tasks/{task_id}/playback": "Playback noted.",
  "/api/v1/tasks/{task_id}/measure": "Runs read again.",
  "/api/v1/timelines/{timeline_id}/files": "File added.",
  "/api/v1/presets": "Settings saved.",
  "/api/v1/runs/{run_id}/marks": "Mark added.",
  "/api/v1/runs/{run_id}/readings": "Reading added.",
  "/api/v1/runs/{run_id}/pictures": "Picture added.",
  "/api/v1/shootouts/{slug}/imports": "Sheet saved.",
  "/api/v1/shootouts/{slug}/imports/undo": "Sheet taken back.",
  "/api/v1/shootouts/{slug}/runs/changes": "Runs changed.",
  "/api/v1/shootouts/{slug}/runs/undo": "Taken back.",
  "/api/v1/shootouts/{slug}/trials": "Noted.",
  "/api/v1/shootouts/{slug}/troubles": "Noted.",
  "/api/v1/shootouts/{slug}/inquiries": "Opened.",
  "/api/v1/inquiries/{inquiry_id}/steps": "Step added.",
  "/api/v1/shootouts/{slug}/published": "Figure noted.",
  "/api/v1/shootouts/{slug}/earlier": "Runs of earlier shootouts added.",
  "/api/v1/shootouts/{slug}/viewers": "Viewer added.",
  "/api/v1/viewers/{viewer_id}/retirement": "Saved.",
  "/api/v1/shootouts/{slug}/picks/{viewer_id}/prices": "Prices kept.",
  "/api/v1/shootouts/{slug}/cards": "Card added.",
  "/api/v1/shootouts/{slug}/cards/{card_id}/retired": "Saved.",
  "/api/v1/shootouts/{slug}/clips": "Clip begun.",
  "/api/v1/shootouts/{slug}/reports": "Report begun.",
  "/api/v1/shootouts/{slug}/public/editions": "Edition published.",
  "/api/v1/shootouts/{slug}/public/links": "Link made.",
  "/api/v1/shootouts/{slug}/public/links/{link_id}/revoked": "Link turned off.",
  "/api/v1/shootouts/{slug}/script/seen": "Marked as seen.",
  "/api/v1/sent/{sent_id}/decision": "Decided.",
  "/api/v1/sent/{sent_id}/erasure": "Erased.",
  "/api/v1/room/machines": "Machine added to the store room.",
  "/api/v1/room/kept": "Kept in the store room.",
  "/api/v1/people/invitations": "Invitation made.",
  "/api/v1/people/{person_id}/role": "Role changed.",
  "/api/v1/me/password": "Password changed.",
}

/** In words; empty where the screen's own news say it, or it is of no weight. */
export function saidOf(path: string): string {
  if (path.endsWith("/withdrawal")) return "Taken back."
  return SAID[path as Path] ?? ""
}

import { useCallback, useEffect, useRef, useState } from "react"
import { clientKey } from "../../api/changes"
import type { Schemas } from "../../api/client"
import { refresh } from "../../api/queries"
import { clock } from "../../theme/format"
import * as lanes from "./lane"
import { flush, waiting, want } from "./outbox"

const RETRY_MS = 3000

/** The lane's behaviour: presses change it at once; the book follows when the server answers. */
export function useLane(slug: string) {
  const [lane, setLane] = useState<lanes.Lane | null>(() => lanes.recall(slug))
  const [result, setResult] = useState<Schemas["StoredRun"] | null>(null)
  const [error, setError] = useState<unknown>(null)
  const [pending, setPending] = useState(() => waiting().length)
  const live = useRef(true)

  const change = useCallback(
    (next: lanes.Lane | null) => {
      lanes.keep(slug, next)
      setLane(next)
    },
    [slug],
  )
  const deliver = useCallback(async () => {
    const sent = await flush()
    if (!live.current) return
    setPending(waiting().length)
    setError(sent.error)
    if (sent.stored) {
      setResult(sent.stored)
      void refresh(slug)
    }
  }, [slug])
  useEffect(() => {
    live.current = true
    void deliver()
    const timer = setInterval(() => {
      if (waiting().length > 0) void deliver()
    }, RETRY_MS)
    return () => {
      live.current = false
      clearInterval(timer)
    }
  }, [deliver])

  const record = (
    of: lanes.Lane,
    at: number,
    how: { status: "ok" | "void" | "failed"; reason: string | null; why: string },
  ) => {
    const seconds = lanes.elapsed({ ...of, phase: "stopped", stoppedAt: at }, at)
    const body: Schemas["NewRun"] = {
      setup_id: of.setupId,
      task_id: of.taskId,
      typed: seconds >= lanes.RESOLUTION_S ? clock(seconds, lanes.RESOLUTION_S) : null,
      method: "stopwatch",
      status: how.status,
      reason: how.reason,
      started_at: new Date(of.startedAt).toISOString(),
      client_key: of.key,
    }
    want({ slug, body, why: how.why })
    setPending(waiting().length)
    void deliver()
  }

  return {
    lane,
    result,
    error,
    pending,
    arm: (setupId: string, taskId: string) => {
      setResult(null)
      change(lanes.armed(setupId, taskId, clientKey()))
    },
    disarm: () => change(null),
    start: () => {
      if (lane?.phase !== "armed") return
      setResult(null)
      change(lanes.started(lane, lanes.now()))
    },
    stop: () => {
      if (lane?.phase !== "running") return
      const at = lanes.now()
      change(lanes.stopped(lane, at))
      record(lane, at, { status: "ok", reason: null, why: "stopped again after an undone press" })
    },
    undo: () => {
      if (!lane || !lanes.canUndo(lane, lanes.now())) return
      if (lane.phase === "stopped") {
        const reason = "stop pressed too early and undone"
        record(lane, lane.stoppedAt, { status: "void", reason, why: reason })
      }
      setResult(null)
      change(lanes.undone(lane))
    },
    /** Ends the run as void or failed, as of the moment of the press, and arms the lane again. */
    end: (status: "void" | "failed", reason: string, at: number) => {
      if (!lane || lane.phase === "armed") return
      record(lane, lane.phase === "stopped" ? lane.stoppedAt : at, { status, reason, why: reason })
      change(lanes.armed(lane.setupId, lane.taskId, clientKey()))
    },
    rearm: () => {
      if (lane?.phase === "stopped") {
        change(lanes.armed(lane.setupId, lane.taskId, clientKey()))
      }
    },
  }
}

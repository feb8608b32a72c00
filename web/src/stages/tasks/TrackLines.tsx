import type { Schemas } from "../../api/client"
import { clock, count } from "../../theme/format"

const HEIGHT = 12

/** A timeline as thin tracks of clip blocks, picture above, sound below; darker with effects. */
export function TrackLines({ facts }: { facts: Schemas["TimelineFacts"] }) {
  const whole = facts.length_s || 1
  const part = (seconds: number) => `${((100 * seconds) / whole).toFixed(3)}%`
  return (
    <div
      role="img"
      aria-label={`${count(facts.tracks.length, "track")} of ${clock(facts.length_s)} with ${count(facts.clips, "clip")}`}
    >
      {facts.tracks.map((track, place) => (
        <svg
          // biome-ignore lint/suspicious/noArrayIndexKey: a track is its place
          key={place}
          className="mb-1 block w-full"
          height={HEIGHT}
          aria-hidden="true"
        >
          {track.blocks.map((block) => (
            <rect
              key={block.start}
              x={part(block.start)}
              width={part(block.length)}
              height={HEIGHT}
              fill="var(--color-base-content)"
              fillOpacity={track.kind === "audio" ? 0.22 : block.effects > 0 ? 0.75 : 0.45}
              stroke="var(--color-base-100)"
              strokeWidth="1"
            />
          ))}
        </svg>
      ))}
      <div className="figure flex justify-between text-12 text-mute">
        <span>0:00</span>
        <span>{clock(facts.length_s)}</span>
      </div>
    </div>
  )
}

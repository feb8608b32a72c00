import { useState } from "react"
import { play, setSound, soundOn } from "../../lanes/sound"

/** Whether lanes are heard: when one ends by itself, and when one goes past the best so far. */
export function SoundSwitch() {
  const [on, setOn] = useState(soundOn)
  return (
    <label className="flex min-h-6 items-center gap-1.5 text-13 text-mute">
      <input
        type="checkbox"
        className="checkbox checkbox-xs"
        checked={on}
        onChange={() => {
          setSound(!on)
          setOn(!on)
          if (!on) play("ended")
        }}
      />
      sound
    </label>
  )
}

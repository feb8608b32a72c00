import { useState } from "react"

/**
 * A line of a form that is emptied as it is sent, so that what is typed while it is on its way
 * stays; where it is refused and nothing else was typed, it comes back.
 */
export function useSentText() {
  const [text, setText] = useState("")
  return {
    text,
    setText,
    /** Empties the line; gives what to do where it is refused. */
    sent: () => {
      const before = text
      setText("")
      return { onError: () => setText((now) => now || before) }
    },
  }
}

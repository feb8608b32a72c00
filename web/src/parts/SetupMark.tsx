import type { ReactNode } from "react"
import { rem } from "../theme/rem"

/** Shapes in a 16 by 16 box, each as heavy as the others. */
const SHAPES: ReactNode[] = [
  <path key="up" d="M8 2 15 14H1Z" />,
  <path key="diamond" d="M8 1 15 8 8 15 1 8Z" />,
  <circle key="disc" cx="8" cy="8" r="6.2" />,
  <path key="down" d="M1 2H15L8 14Z" />,
  <rect key="square" x="2.2" y="2.2" width="11.6" height="11.6" />,
  <path key="hexagon" d="M8 1.2 14 4.6V11.4L8 14.8 2 11.4V4.6Z" />,
  <path key="cross" d="M5.6 1.5h4.8v4.1h4.1v4.8h-4.1v4.1H5.6v-4.1H1.5V5.6h4.1Z" />,
  <path key="half" d="M8 1.5a6.5 6.5 0 0 1 0 13Zm-1 0v13a6.5 6.5 0 0 1 0-13Z" />,
]

/** Colour and shape of the setup with the mark `index`; pairs repeat after 64. */
export function markOf(index: number): { color: string; shape: ReactNode } {
  const turn = Math.floor(index / 8)
  return { color: `var(--s${(index % 8) + 1})`, shape: SHAPES[(index + turn) % 8] }
}

/** A setup's marker, the same on every screen. */
export function SetupMark({
  index,
  size = 14,
}: {
  /** Mark of the setup. */
  index: number
  /** Edge in pixels; default 14. */
  size?: number
}) {
  const { color, shape } = markOf(index)
  return (
    <svg
      width={rem(size)}
      height={rem(size)}
      viewBox="0 0 16 16"
      fill={color}
      aria-hidden="true"
      className="shrink-0"
    >
      {shape}
    </svg>
  )
}

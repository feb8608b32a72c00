import type { ReactNode } from "react"

/** The scrolling part of a stage, with its heading and what stands beside it. */
export function StagePage({
  title,
  aside,
  tools,
  children,
}: {
  title: ReactNode
  /** Small words after the title. */
  aside?: ReactNode
  /** Buttons at the right. */
  tools?: ReactNode
  children: ReactNode
}) {
  return (
    <div className="stage-page min-w-0 flex-1 px-4 pt-4 pb-8 md:px-5">
      <div className="mb-3 flex flex-wrap items-center gap-x-4 gap-y-2">
        <h1 tabIndex={-1} className="min-w-0 text-21 leading-7 break-words">
          {title}
        </h1>
        {aside && <span className="text-mute">{aside}</span>}
        {tools && <div className="flex flex-wrap items-center gap-2 md:ml-auto">{tools}</div>}
      </div>
      {children}
    </div>
  )
}

/** A key as it is named on the board. */
export function KeyCap({ children }: { children: string }) {
  return (
    <kbd className="figure inline-block min-w-5 rounded-xs border border-b-2 border-line bg-page px-1 text-center text-12 leading-4">
      {children}
    </kbd>
  )
}

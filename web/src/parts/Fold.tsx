/** Something beside the main thing: closed under its heading until somebody wants it. */
export function Fold({
  title,
  open = false,
  children,
}: {
  title: string
  open?: boolean
  children: React.ReactNode
}) {
  return (
    <details className="fold border-t border-line py-2" open={open}>
      <summary className="min-h-7 cursor-pointer font-head text-15 font-bold">{title}</summary>
      <div className="pt-2 pb-3">{children}</div>
    </details>
  )
}

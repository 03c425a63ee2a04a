import type { ReactNode } from 'react'

/** The frame of the bench: what it is about on the left, its picture, and its fields on the right. */
export function BenchFrame({
  title,
  about,
  measured,
  picture,
  children,
}: {
  title: string
  about: string[]
  measured?: ReactNode
  picture?: ReactNode
  children: ReactNode
}) {
  return (
    <section aria-label="Bench" className="apart flex h-full min-h-0 bg-linen">
      <div className="w-52 shrink-0 overflow-auto border-r border-seam px-4 py-3">
        <p className="text-xs text-soft">Bench</p>
        <h2 className="text-base leading-5 font-bold wrap-anywhere">{title}</h2>
        {about.map((line) => (
          <p key={line} className="text-sm text-soft">
            {line}
          </p>
        ))}
        {measured}
      </div>
      <div className="relative min-w-0 flex-1">{picture}</div>
      <div className="flex w-64 shrink-0 flex-col gap-2 overflow-auto border-l border-seam bg-cloth px-4 py-3 max-[1100px]:w-56">
        {children}
      </div>
    </section>
  )
}

import type { ReactNode } from 'react'
import type { Session } from '../../../core/model/session'
import { RangeTimes } from './time-fields'

/** The frame of the bench: what it is about on the left, its picture, and its fields on the right. */
export function BenchFrame({
  session,
  title,
  about,
  times,
  measured,
  wide = false,
  picture,
  children,
}: {
  session: Session
  title: string
  about: string[]
  /** Fields of where it lies in time. */
  times?: ReactNode
  measured?: ReactNode
  /** Whether the fields need two columns. */
  wide?: boolean
  picture?: ReactNode
  children: ReactNode
}) {
  return (
    <section aria-label="Bench" data-area="bench" className="apart flex h-full min-h-0 bg-linen">
      <div className="w-52 shrink-0 overflow-auto border-r border-seam px-4 py-2">
        <h2 className="text-base leading-5 font-bold wrap-anywhere">{title}</h2>
        <p className="text-xs text-soft">{about.join(' · ')}</p>
        {times}
        <RangeTimes session={session} />
        {measured}
      </div>
      <div className="relative min-w-0 flex-1">{picture}</div>
      <div
        className={`flex shrink-0 flex-col gap-2 overflow-auto border-l border-seam bg-cloth px-3 py-2 ${wide ? 'w-[30rem] max-[1100px]:w-[26rem]' : 'w-68'}`}
      >
        {children}
      </div>
    </section>
  )
}

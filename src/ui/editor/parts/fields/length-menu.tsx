import { ChevronDown } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import type { FadeEdge } from '../../../../core/edit'
import { regionEnd } from '../../../../core/model/queries'
import type { Region, Session } from '../../../../core/model/session'
import { findPhrases, usualFloor } from '../../../../core/suggest/even-out'
import { phraseSteps } from '../../../../engine/background'
import { getPlayer } from '../../../../store/playback/playback'
import { useAppSelector } from '../../../parts/hooks'
import { MENU, MENU_ITEM } from '../../../parts/menu-look'
import { toast } from '../../../parts/messages/toast'
import { unlessInDialog } from '../../../parts/focus-return'

/** Lengths that follow from something else: the playhead, the range, the first or last phrase. */
export function LengthMenu({
  session,
  regions,
  edge,
  onLength,
}: {
  session: Session
  regions: readonly Region[]
  edge: FadeEdge
  onLength(regionId: string, lengthFrames: number): void
}) {
  const range = useAppSelector((s) => s.selection.range)
  const upTo = (frameOf: (region: Region) => number | null) => {
    let none = true
    for (const region of regions) {
      const frame = frameOf(region)
      const length = frame === null ? 0 : edge === 'in' ? frame - region.start : regionEnd(region) - frame
      if (length <= 0 || length > region.length) continue
      none = false
      onLength(region.id, Math.round(length))
    }
    if (none) toast({ text: 'That place lies outside the selected regions, so no fade was made.' })
  }
  const toPhrase = async () => {
    for (const region of regions) {
      const steps = await phraseSteps(session, region)
      const floor = usualFloor(steps.powers)
      const spoken = findPhrases(steps, session.sampleRate, floor)
      // Without a voice, whatever stands out.
      const phrases = spoken.length
        ? spoken
        : findPhrases({ ...steps, voicing: null }, session.sampleRate, floor)
      const phrase = edge === 'in' ? phrases[0] : phrases.at(-1)
      const length = phrase ? (edge === 'in' ? phrase.from : region.length - phrase.to) : 0
      if (length > 0) onLength(region.id, length)
    }
  }
  return (
    <DropdownMenu.Root modal={false}>
      <DropdownMenu.Trigger
        aria-label={`Length of the fade ${edge} up to …`}
        title="Set the length up to the playhead, the range or a phrase"
        className="flex h-8 items-center rounded-lg border border-seam bg-linen px-2 text-sm hover:bg-white"
      >
        Set length…
        <ChevronDown size={14} />
      </DropdownMenu.Trigger>
      <DropdownMenu.Portal>
        <DropdownMenu.Content onCloseAutoFocus={unlessInDialog} align="end" sideOffset={4} className={MENU}>
          <DropdownMenu.Item className={MENU_ITEM} onSelect={() => upTo(() => getPlayer()?.position() ?? 0)}>
            To the playhead
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={MENU_ITEM}
            disabled={!range}
            onSelect={() => upTo(() => (edge === 'in' ? range!.to : range!.from))}
          >
            Over the range
          </DropdownMenu.Item>
          <DropdownMenu.Item
            className={MENU_ITEM}
            onSelect={() => void toPhrase().catch((e: unknown) => toast({ text: String(e) }))}
          >
            {edge === 'in' ? 'To the first phrase' : 'From the last phrase'}
          </DropdownMenu.Item>
        </DropdownMenu.Content>
      </DropdownMenu.Portal>
    </DropdownMenu.Root>
  )
}

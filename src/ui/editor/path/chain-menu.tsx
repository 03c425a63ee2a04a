import { ChevronRight, MoreHorizontal } from 'lucide-react'
import { DropdownMenu } from 'radix-ui'
import { copyToOtherChain, stripOf, swapChains, type Chain } from '../../../core/edit'
import type { Session } from '../../../core/model/session'
import { lastInsertsOf } from '../../../core/model/strips'
import { commit } from '../../../store/edits'
import { putPreset } from '../../../store/actions/presets'
import { dialogShown } from '../../../store/view'
import { useAppDispatch } from '../../parts/hooks'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { usePresets } from '../parts/inserts/preset-menu'
import { unlessInDialog } from '../../parts/focus-return'

/** What can be done with a whole chain: all of it in a panel, presets, and its versions A and B. */
export function ChainMenu({
  session,
  stripId,
  chain,
  name,
}: {
  session: Session
  stripId: string | null
  chain: Chain
  name: string
}) {
  const dispatch = useAppDispatch()
  const strip = stripOf(session, stripId)!
  const list = chain === 'inserts' ? strip.inserts : lastInsertsOf(strip)
  const { items, rest } = usePresets({
    kind: null,
    inserts: list,
    onTake: (preset) => void dispatch(putPreset(stripId, chain, preset, true)),
  })
  const here = strip.chainB?.heard ? 'B' : 'A'
  const other = here === 'A' ? 'B' : 'A'
  return (
    <>
      <DropdownMenu.Root>
        <DropdownMenu.Trigger
          aria-label={`The inserts of ${name} as a whole`}
          title={`The inserts of ${name} as a whole: in a panel, as presets, versions A and B`}
          className="flex h-5.5 items-center justify-center gap-0.5 rounded-md bg-cloth px-0.5 text-xs text-soft hover:bg-linen hover:text-ink"
        >
          {strip.chainB && chain === 'inserts' && <b className="font-mono">{here}</b>}
          <MoreHorizontal size={14} aria-hidden />
        </DropdownMenu.Trigger>
        <DropdownMenu.Portal>
          <DropdownMenu.Content
            onCloseAutoFocus={unlessInDialog}
            align="end"
            sideOffset={4}
            collisionPadding={8}
            className={MENU}
          >
            <DropdownMenu.Item
              className={MENU_ITEM}
              onSelect={() => dispatch(dialogShown(stripId === null ? 'mix-inserts' : 'strip'))}
            >
              Show inserts, output and sends…
            </DropdownMenu.Item>
            <DropdownMenu.Sub>
              <DropdownMenu.SubTrigger className={MENU_ITEM}>
                Chains <ChevronRight size={14} aria-hidden />
              </DropdownMenu.SubTrigger>
              <DropdownMenu.Portal>
                <DropdownMenu.SubContent className={MENU} sideOffset={4} collisionPadding={8}>
                  {items}
                </DropdownMenu.SubContent>
              </DropdownMenu.Portal>
            </DropdownMenu.Sub>
            {chain === 'inserts' && (
              <>
                <DropdownMenu.Item
                  className={MENU_ITEM}
                  onSelect={() => void dispatch(commit(swapChains, { id: stripId }))}
                >
                  {strip.chainB ? `Hear version ${other}` : 'Save as A, switch to B'}
                </DropdownMenu.Item>
                {strip.chainB && (
                  <DropdownMenu.Item
                    className={MENU_ITEM}
                    onSelect={() => void dispatch(commit(copyToOtherChain, { id: stripId }))}
                  >
                    Copy version {here} over {other}
                  </DropdownMenu.Item>
                )}
              </>
            )}
          </DropdownMenu.Content>
        </DropdownMenu.Portal>
      </DropdownMenu.Root>
      {rest}
    </>
  )
}

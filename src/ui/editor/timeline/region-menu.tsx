import { canPutBack } from '../../../core/edit'
import { ContextMenu } from 'radix-ui'
import { useRef, useState, type ReactNode } from 'react'
import { dyes } from '../../../core/model/session'
import { current } from '../../../store/current'
import { hearAlone, hearWithRoll } from '../../../store/playback/playback'
import {
  colourSelected,
  copySelected,
  crossfadeSelected,
  cutSelected,
  deleteSelected,
  joinSelected,
  likeRegion,
  loopSelected,
  markHere,
  pasteHere,
  putBackSelected,
  renderPart,
  selectFrom,
  splitAt,
  splitHere,
  switchSelected,
  trimToPlayhead,
  trimToRange,
  unlinkSelected,
} from '../../../store/actions/region-actions'
import { dialogShown } from '../../../store/view'
import { dyeClass } from '../../look/colours'
import { shownSession } from '../../../store/selectors'
import { duplicateHere } from '../hands/duplicate'
import { useAppDispatch, useAppSelector } from '../../parts/hooks'
import { MENU, MENU_ITEM } from '../../parts/menu-look'
import { toast } from '../../parts/messages/toast'
import type { CommandId } from '../../parts/commands/commands'
import { useKeyWords } from '../../parts/commands/use-key-words'
import { useCommands } from '../parts/command-context'
import { underPointer } from '../hands/pointed'
import { unlessInDialog } from '../../parts/focus-return'

/**
 * The menu of the right mouse button over the timeline: all that can be done to the selected regions, with
 * its keys.
 */
export function RegionMenu({ children }: { children: ReactNode }) {
  const dispatch = useAppDispatch()
  const regions = useAppSelector((s) => shownSession(s)?.regions)
  const runs = useCommands()
  const selection = useAppSelector((s) => current(s).regionIds)
  const range = useAppSelector((s) => s.selection.range)
  // Where the menu was opened.
  const pointed = useRef<number | null>(null)
  const [opened, setOpened] = useState<string | null>(null)
  // The region that the menu was opened on, else the first of those that are selected.
  const leading = opened !== null && selection.includes(opened) ? opened : selection[0]
  const first = regions?.[leading ?? '']
  const several = selection.length > 1
  const shared = first?.gainThreadId
    ? Object.values(regions!).filter((r) => r.gainThreadId === first.gainThreadId).length > 1
    : false
  const putsBack = useAppSelector((s) => {
    const { session } = s.session
    return session !== null && s.selection.regionIds.some((id) => canPutBack(session, id))
  })
  const render = (stage: 'clip' | 'insert') => () =>
    void dispatch(renderPart(stage)).then(
      (outcome) => outcome?.done === false && toast({ text: outcome.message }),
    )
  return (
    <ContextMenu.Root
      modal={false}
      onOpenChange={(open) => {
        if (!open) return
        const under = underPointer.get()
        pointed.current = under?.frame ?? null
        setOpened(under?.regionId ?? null)
      }}
    >
      <ContextMenu.Trigger asChild>{children}</ContextMenu.Trigger>
      <ContextMenu.Portal>
        <ContextMenu.Content onCloseAutoFocus={unlessInDialog} className={MENU}>
          {first ? (
            <>
              <Item looks text="Hear alone" of="hear-alone" onSelect={() => dispatch(hearAlone(first.id))} />
              <Item
                looks
                text="Hear in the mix, with pre- and post-roll"
                of="hear-with-roll"
                onSelect={() => dispatch(hearWithRoll(first.id))}
              />
              <Item looks text="Loop it" of="loop-selected" onSelect={() => dispatch(loopSelected())} />
              <Line />
              <Sub text="Level">
                <Item text="Match levels…" of="match" onSelect={() => dispatch(dialogShown('match'))} />
                <Item
                  looks
                  text="Loudness over time…"
                  of="loudness"
                  onSelect={() => dispatch(dialogShown('loudness'))}
                />
                <Item
                  text="Left and right, phase…"
                  of="sides"
                  onSelect={() => dispatch(dialogShown('sides'))}
                />
                <Item
                  text="Even out phrases…"
                  of="even-out"
                  onSelect={() => dispatch(dialogShown('even-out'))}
                />
                <Item
                  text={`Give all the gain of “${first.name}”`}
                  disabled={!several}
                  onSelect={() => dispatch(likeRegion(first.id))}
                />
              </Sub>
              <Sub text="Edges">
                <Item text="Fades…" of="fades" onSelect={() => dispatch(dialogShown('fades'))} />
                <Item
                  text="Crossfade the joins"
                  of="crossfade"
                  disabled={!several}
                  onSelect={() => dispatch(crossfadeSelected())}
                />
                <Item
                  text="Crossfades…"
                  of="crossfades"
                  disabled={!several}
                  onSelect={() => dispatch(dialogShown('crossfades'))}
                />
                <Item text="Seams…" of="seams" onSelect={() => dispatch(dialogShown('seams'))} />
              </Sub>
              <Sub text="Split and trim">
                <Item
                  text={range ? 'Split at the ends of the range' : 'Split at the playhead'}
                  of="split"
                  onSelect={() => dispatch(splitHere())}
                />
                <Item
                  text="Split here"
                  of="split-here"
                  onSelect={() => pointed.current !== null && dispatch(splitAt(pointed.current))}
                />
                <Item
                  text="Silence: cut or split…"
                  of="silence"
                  onSelect={() => dispatch(dialogShown('silence'))}
                />
                <Item
                  text="Trim start to the playhead"
                  of="trim-start"
                  onSelect={() => dispatch(trimToPlayhead('start'))}
                />
                <Item
                  text="Trim end to the playhead"
                  of="trim-end"
                  onSelect={() => dispatch(trimToPlayhead('end'))}
                />
                <Item
                  text="Trim to the range"
                  of="trim-to-range"
                  disabled={!range}
                  onSelect={() => dispatch(trimToRange())}
                />
                <Item
                  text="Join pieces"
                  of="join"
                  disabled={!several}
                  onSelect={() => dispatch(joinSelected())}
                />
              </Sub>
              <Sub text="Copies">
                <Item text="Duplicate" of="duplicate" onSelect={() => dispatch(duplicateHere(false))} />
                <Item
                  text="Duplicate linked"
                  of="duplicate-linked"
                  onSelect={() => dispatch(duplicateHere(true))}
                />
                <Item text="Repeat linked…" onSelect={() => dispatch(dialogShown('repeat'))} />
                <Item text="Unlink" disabled={!shared} onSelect={() => dispatch(unlinkSelected())} />
                <Item
                  text={range && !several ? 'Render the range in place' : 'Render in place'}
                  of="render"
                  onSelect={render('clip')}
                />
                <Item
                  text={
                    range && !several
                      ? 'Render the range in place, after inserts'
                      : 'Render in place, after inserts'
                  }
                  of="render-after"
                  onSelect={render('insert')}
                />
                <Item
                  text="Put back what it was made from"
                  of="put-back"
                  disabled={!putsBack}
                  onSelect={() => dispatch(putBackSelected())}
                />
              </Sub>
              <Sub text="Select">
                <Item
                  looks
                  text="From here on, on this track"
                  onSelect={() => dispatch(selectFrom(first.start, first.trackId))}
                />
                <Item
                  looks
                  text="From here on, on all tracks"
                  onSelect={() => dispatch(selectFrom(first.start, null))}
                />
              </Sub>
              <Line />
              <Item text="Cut" of="cut" onSelect={() => dispatch(cutSelected())} />
              <Item looks text="Copy" of="copy" onSelect={() => void dispatch(copySelected())} />
              <Item text="Paste at the playhead" of="paste" onSelect={() => dispatch(pasteHere())} />
              <Line />
              <Item text="Rename…" onSelect={() => dispatch(dialogShown('rename'))} />
              <Sub text="Colour">
                {dyes.map((dye) => (
                  <Item
                    key={dye}
                    text={
                      <span className="inline-flex items-center gap-2">
                        <span className={`h-3 w-3 rounded-full ${dyeClass[dye]}`} />
                        {dye}
                      </span>
                    }
                    onSelect={() => dispatch(colourSelected(dye))}
                  />
                ))}
                <Item text="that of the track" onSelect={() => dispatch(colourSelected(undefined))} />
              </Sub>
              <Item
                text={first.muted ? 'Unmute' : 'Mute'}
                onSelect={() => dispatch(switchSelected('muted'))}
              />
              <Item
                text={first.reversed ? 'Play forwards' : 'Reverse'}
                onSelect={() => dispatch(switchSelected('reversed'))}
              />
              <Item
                text={first.locked ? 'Unlock' : 'Lock'}
                onSelect={() => dispatch(switchSelected('locked'))}
              />
              <Line />
              <Item text="Delete" of="delete" onSelect={() => dispatch(deleteSelected(false))} />
              <Item
                text="Delete and close the gap"
                of="delete-closing"
                onSelect={() => dispatch(deleteSelected(true))}
              />
            </>
          ) : (
            <>
              <Item text="Paste at the playhead" of="paste" onSelect={() => dispatch(pasteHere())} />
              <Item
                text="Insert time on all tracks…"
                of="insert-time"
                onSelect={() => runs['insert-time']()}
              />
              <Item
                text="Remove the range from all tracks"
                of="remove-time"
                disabled={!range}
                onSelect={() => runs['remove-time']()}
              />
              <Item text="Marker at the playhead" of="marker" onSelect={() => dispatch(markHere())} />
              <Item
                text="Render the range of this track in place"
                disabled={!range}
                onSelect={render('clip')}
              />
            </>
          )}
        </ContextMenu.Content>
      </ContextMenu.Portal>
    </ContextMenu.Root>
  )
}

function Item({
  text,
  of,
  disabled,
  looks,
  onSelect,
}: {
  text: ReactNode
  /** The command that it is, whose key is shown. */
  of?: CommandId
  disabled?: boolean
  /** It changes nothing, and works where the session cannot be edited. */
  looks?: boolean
  onSelect(): void
}) {
  const readOnly = useAppSelector((s) => s.session.readOnly !== null)
  const words = useKeyWords()
  const keys = of && words.of(of)
  return (
    <ContextMenu.Item disabled={disabled || (readOnly && !looks)} onSelect={onSelect} className={MENU_ITEM}>
      {text}
      {keys && <span className="font-mono text-2xs text-soft">{keys}</span>}
    </ContextMenu.Item>
  )
}

function Sub({ text, children }: { text: string; children: ReactNode }) {
  return (
    <ContextMenu.Sub>
      <ContextMenu.SubTrigger className={MENU_ITEM}>
        {text}
        <span aria-hidden className="text-soft">
          ›
        </span>
      </ContextMenu.SubTrigger>
      <ContextMenu.Portal>
        <ContextMenu.SubContent className={MENU}>{children}</ContextMenu.SubContent>
      </ContextMenu.Portal>
    </ContextMenu.Sub>
  )
}

const Line = () => <ContextMenu.Separator className="my-1 h-px bg-fold" />

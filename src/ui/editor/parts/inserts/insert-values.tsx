import { Ear, Plus, Power } from 'lucide-react'
import { Fragment } from 'react'
import { insertKindOf } from '../../../../core/model/inserts/insert-kinds'
import type { InsertParameter } from '../../../../core/model/inserts/insert-types'
import { insertValue } from '../../../../core/model/inserts/insert-values'
import { insertLaneKey } from '../../../../core/model/parameters'
import { stripOf } from '../../../../core/model/strips'
import { hearBand } from '../../../../store/playback/listening'
import { giveInsertValue } from '../../../../store/actions/strip-actions'
import { Button } from '../../../parts/button'
import { useAppDispatch, useAppSelector } from '../../../parts/hooks'
import { InsertField, InsertSwitch, KeyField, type FieldOf } from './insert-fields'
import { SmallButton } from '../small-button'

/** Parameters that belong together: those of a band, or all that belong to none. */
interface Group {
  key: string
  name: string
  parameters: readonly InsertParameter[]
}

const groupKey = ({ key }: InsertParameter) => (key.includes('.') ? key.slice(0, key.indexOf('.')) : '')

function groupsOf(parameters: readonly InsertParameter[]): Group[] {
  const groups = new Map<string, InsertParameter[]>()
  for (const parameter of parameters) {
    const key = groupKey(parameter)
    groups.set(key, [...(groups.get(key) ?? []), parameter])
  }
  return [...groups].map(([key, own]) => ({ key, name: own[0]!.group ?? '', parameters: own }))
}

/** A label without the name of its group: "Frequency" of "Band 1 frequency". */
function labelWithin({ name }: Group, { label }: InsertParameter): string {
  const rest = name && label.startsWith(name) ? label.slice(name.length).trim() : label
  return rest.charAt(0).toUpperCase() + rest.slice(1)
}

/** Whether a value does anything beside the others: a cut has a slope and no gain. */
function matters({ insert }: Pick<FieldOf, 'insert'>, { key }: InsertParameter): boolean {
  if (insert.kind !== 'equaliser' || !key.includes('.')) return true
  const [band, name] = key.split('.')
  const kind = insert.values[`${band}.kind`] ?? 'bell'
  const cut = kind === 'low-cut' || kind === 'high-cut'
  if (name === 'slope') return cut
  if (name === 'gainDb') return !cut && kind !== 'notch'
  return name !== 'q' || !cut
}

/** The values of an insert as fields, band by band where it has bands. */
export function InsertValues(of: FieldOf) {
  const { session, id, insert } = of
  const dispatch = useAppDispatch()
  const { parameters } = insertKindOf(insert.kind)
  const groups = groupsOf(parameters)
  const lanes = stripOf(session, id)?.lanes ?? {}
  const switchOf = ({ key }: Group) => `${key}.on`
  const canBeOff = (group: Group) => group.parameters.some((p) => p.key === switchOf(group))
  const isShown = (group: Group) =>
    !canBeOff(group) ||
    insertValue(insert, switchOf(group)) > 0 ||
    insertLaneKey(insert.id, switchOf(group)) in lanes
  const hidden = groups.filter((group) => !isShown(group))
  const singular = hidden[0]?.name.replace(/ \d+$/, '').toLowerCase()
  return (
    <>
      {groups
        .filter((group) => group.key && isShown(group))
        .map((group) => (
          <Fragment key={group.key}>
            <div className="mt-2 flex items-center border-t border-seam/60 pt-1.5">
              <h3 className="flex-1 text-xs font-semibold">{group.name}</h3>
              {insert.kind === 'equaliser' && <HearBand {...of} band={group.key} name={group.name} />}
              {canBeOff(group) && (
                <SmallButton
                  label={`Switch ${group.name.toLowerCase()} off`}
                  title="Switch it off; its values stay"
                  onPress={() => void dispatch(giveInsertValue(id, insert.id, switchOf(group), false))}
                >
                  <Power size={14} />
                </SmallButton>
              )}
            </div>
            <Fields of={of} group={group} />
          </Fragment>
        ))}
      {hidden.length > 0 && (
        <div className="mt-2 border-t border-seam/60 pt-2">
          <Button onClick={() => void dispatch(giveInsertValue(id, insert.id, switchOf(hidden[0]!), true))}>
            <Plus size={14} aria-hidden /> Add a {singular}
          </Button>
        </div>
      )}
      {groups
        .filter((group) => !group.key)
        .map((group) => (
          <div key="" className={groups.length > 1 ? 'mt-2 border-t border-seam/60 pt-1.5' : ''}>
            <Fields of={of} group={group} />
          </div>
        ))}
    </>
  )
}

/** Hears one band of the equaliser alone, as long as its insert is picked. */
function HearBand({ id, insert, band, name }: FieldOf & { band: string; name: string }) {
  const dispatch = useAppDispatch()
  const heard = useAppSelector(
    ({ listening: listen }) => listen.band?.insertId === insert.id && listen.band.band === band,
  )
  return (
    <button
      type="button"
      aria-label={`Hear ${name.toLowerCase()} alone`}
      aria-pressed={heard}
      title="Hear only what lies in this band"
      onClick={() => dispatch(hearBand({ stripId: id, insertId: insert.id }, band))}
      className="flex h-6 w-6 items-center justify-center rounded-md text-soft hover:bg-fold hover:text-ink aria-pressed:bg-oak aria-pressed:text-white"
    >
      <Ear size={14} />
    </button>
  )
}

function Fields({ of, group }: { of: FieldOf; group: Group }) {
  const shown = group.parameters.filter((p) => matters(of, p) && p.key !== `${group.key}.on`)
  const keyed = !group.key && insertKindOf(of.insert.kind).takesKey
  const switches = shown.filter((p) => p.type === 'switch')
  return (
    <>
      <div className="grid grid-cols-2 gap-x-3 gap-y-2">
        {shown
          .filter((p) => p.type !== 'switch')
          .map((parameter) => (
            <InsertField
              key={parameter.key}
              {...of}
              parameter={parameter}
              label={labelWithin(group, parameter)}
            />
          ))}
        {keyed && <KeyField {...of} />}
      </div>
      {switches.length > 0 && (
        <div className="mt-2 grid grid-cols-2 gap-x-3 gap-y-1">
          {switches.map((parameter) => (
            <InsertSwitch
              key={parameter.key}
              {...of}
              parameter={parameter}
              label={labelWithin(group, parameter)}
            />
          ))}
        </div>
      )}
    </>
  )
}

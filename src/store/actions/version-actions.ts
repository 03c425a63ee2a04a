import { goBackTo } from '../../core/edit'
import { LIMITS } from '../../core/model/session'
import { addSession } from '../../engine/storage'
import { keepVersion, loadVersion, type VersionEntry } from '../../engine/storage'
import { commit } from '../edits'
import { checkSounds } from './missing-sounds'
import type { Thunk } from '../store'

/** Keeps the open session as it is, without the gesture in progress, under a name. */
export const keepThisAs =
  (name: string): Thunk<Promise<VersionEntry>> =>
  async (_dispatch, getState) => {
    const { session, base } = getState().session
    return keepVersion((base ?? session)!, name.slice(0, LIMITS.nameLength), Date.now())
  }

/** Brings the open session back to a kept version, as one step. */
export const goBackToVersion =
  ({ id, name }: VersionEntry): Thunk<Promise<void>> =>
  async (dispatch, getState) => {
    const session = await loadVersion(getState().session.session!.id, id)
    if (dispatch(commit(goBackTo, { session, name }))) await dispatch(checkSounds())
  }

/** Makes a session of its own of a kept version of the open one; resolves to its id. */
export const openVersion =
  ({ id, name }: VersionEntry): Thunk<Promise<string>> =>
  async (_dispatch, getState) => {
    const version = await loadVersion(getState().session.session!.id, id)
    const session = {
      ...version,
      id: crypto.randomUUID().slice(0, 13),
      title: `${version.title} · ${name}`.slice(0, LIMITS.nameLength),
    }
    await addSession(session, Date.now())
    return session.id
  }

export {
  AudioWriter,
  CHUNK_FRAMES,
  findAudio,
  readChunk,
  type SoundCache,
  soundsOf,
  storeCache,
  type StoredSound,
} from './audio-store'
export { correlationsOf, relationOf } from './correlations'
export { onConnectionLost } from './database'
export { beginFreshLog } from './fresh-log'
export {
  addSession,
  deleteSession,
  duplicateSession,
  emptyTrash,
  hasSession,
  KEEP_DELETED,
  listCopies,
  listLibrary,
  loadSession,
  noteCopy,
  purge,
  renameSession,
  replaceSession,
  restoreSession,
  type StoredSession,
} from './session-store'
export { DataVanished, SessionWriter, TakenOver } from './session-writer'
export { findMissingSounds } from './sound-check'
export { type Columns, Pictures } from './sound-pictures'
export type { SoundSize } from './sound-sizes'
export {
  allowanceWarning,
  askToPersist,
  type AudioRecord,
  isPersisted,
  onStorageFailure,
  presetsDb,
  recordKeys,
  type SessionRecord,
  StorageError,
  storageFailure,
  withSharedLock,
} from './storage'
export { keepVersion, listVersions, loadVersion, removeVersion, type VersionEntry } from './versions'

export { fileKind, type FileKind } from './file-kind'
export {
  factsOf,
  type FileFacts,
  importFiles,
  type ImportOutcome,
  importPackageFile,
  proposedRate,
  type Refused,
  SESSION_RATES,
} from './import-files'
export type { ImportedSound, MissingSound } from './import-sound'
export { readTable } from './read-table'

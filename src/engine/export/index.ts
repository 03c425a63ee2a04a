export { deliver, type Receipt, receivingRules, type ReceivingRules, Refused } from './delivery'
export {
  type ExportPart,
  type ExportResult,
  exportSound,
  type MeasuredPart,
  measurePart,
  measureSeams,
  zipFiles,
} from './export-sound'
export { renderToSound } from './render-to-sound'
export { saveCopy } from './save-copy'
export { sharedBlocks } from './shared-render'
export { sliceThreads, startSliceThread } from './slice-threads'
export { sweepExports } from './spool'

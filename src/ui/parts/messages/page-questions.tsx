import { copyQuestion } from '../copies/copy-question'
import { useObservable } from '../hooks'
import { askedImport } from '../import/asked-import'
import { refusedFiles } from '../import/import-outcome'
import { lazyPart } from '../opening/lazy-part'

const RefusedFiles = lazyPart(async () => (await import('../import/refused-files')).RefusedFilesDialog)
const CopyQuestion = lazyPart(async () => (await import('../copies/copy-question-dialog')).CopyQuestionDialog)
const ImportQuestion = lazyPart(async () => (await import('../import/import-question')).ImportQuestion)

/** What a person is asked about files that come in or go out, on any page. */
export function PageQuestions() {
  const refused = useObservable(refusedFiles).refused.length > 0
  const copies = useObservable(copyQuestion) !== null
  const imports = useObservable(askedImport) !== null
  return (
    <>
      {refused && <RefusedFiles />}
      {copies && <CopyQuestion />}
      {imports && <ImportQuestion />}
    </>
  )
}

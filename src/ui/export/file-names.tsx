import { PATTERN_WORDS } from '../../store/actions/export-actions'

/** How the files are called: one by its name, several by a pattern, with what comes of it. */
export function FileNames({
  single,
  pattern,
  onPattern,
  names,
  extension,
}: {
  single: { name: string; onName(name: string | null): void } | null
  pattern: string
  onPattern(pattern: string): void
  names: readonly string[]
  extension: string
}) {
  return (
    <label className="block">
      <span className="mb-1 block text-lg font-bold">{single ? 'File name' : 'File names'}</span>
      <span className="flex items-center gap-2">
        <input
          value={single ? single.name : pattern}
          maxLength={single ? 80 : 200}
          spellCheck={false}
          onChange={(event) => (single ? single.onName(event.target.value) : onPattern(event.target.value))}
          onBlur={() => single?.name.trim() === '' && single.onName(null)}
          className="h-10 min-w-0 flex-1 rounded-lg border border-seam bg-linen px-3"
        />
        <span className="text-soft">.{extension}</span>
      </span>
      {!single && (
        <span className="mt-1 block text-sm text-soft">
          {PATTERN_WORDS.join(' ')} are filled in
          {names.length > 0 && (
            <>
              : “{names[0]}.{extension}”{names.length > 1 && `, “${names[1]}.${extension}”`}
              {names.length > 2 && ' …'}
            </>
          )}
        </span>
      )}
    </label>
  )
}

/** Shown while the first page is being loaded. */
export const PageLoads = () => (
  <main className="flex h-full items-center justify-center text-soft">
    <p role="status">Loading …</p>
  </main>
)

/** Shown while the first page is being loaded. */
export const PageLoads = () => (
  <main role="status" className="flex h-full items-center justify-center text-soft">
    Loading …
  </main>
)

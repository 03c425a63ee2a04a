/** Hands a file at an address of this page over as a download. */
export function download(url: string, name: string): void {
  const link = document.createElement('a')
  Object.assign(link, { href: url, download: name })
  link.click()
}

/** Hands a file over as a download, and lets go of it once the browser has read it. */
export function downloadFile(file: Blob, name: string): void {
  const url = URL.createObjectURL(file)
  download(url, name)
  setTimeout(() => URL.revokeObjectURL(url), 60_000)
}

/** Gives a file to the person. */
export function saveBlob(content: Blob, name: string): void {
  const link = Object.assign(document.createElement('a'), { href: URL.createObjectURL(content), download: name })
  link.click()
  setTimeout(() => URL.revokeObjectURL(link.href), 10_000)
}

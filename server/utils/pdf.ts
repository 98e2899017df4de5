import { readFileSync } from 'node:fs'
import pdfmake from 'pdfmake'
import type { TDocumentDefinitions } from 'pdfmake/interfaces'
import { shippedFiles } from './shipped-files'

let ready = false

/** Gives the maker its font, and closes its ways to the network and the disk. */
function prepare(): void {
  if (ready) {
    return
  }
  const files = (pdfmake as unknown as { virtualfs: { writeFileSync(name: string, content: Buffer): void } }).virtualfs
  for (const face of ['Regular', 'Medium']) {
    files.writeFileSync(`Roboto-${face}.ttf`, readFileSync(`${shippedFiles('fonts')}/Roboto-${face}.ttf`))
  }
  pdfmake.setFonts({ Roboto: { normal: 'Roboto-Regular.ttf', bold: 'Roboto-Medium.ttf' } })
  const closed = pdfmake as unknown as {
    setUrlAccessPolicy(allow: () => boolean): void
    setLocalAccessPolicy(allow: () => boolean): void
  }
  closed.setUrlAccessPolicy(() => false)
  closed.setLocalAccessPolicy(() => false)
  ready = true
}

/** A document as PDF. */
export function makePdf(document: TDocumentDefinitions): Promise<Buffer> {
  prepare()
  return (pdfmake.createPdf(document) as unknown as { getBuffer(): Promise<Buffer> }).getBuffer()
}

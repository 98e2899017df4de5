import { readFileSync } from 'node:fs'
import type { TDocumentDefinitions } from 'pdfmake/interfaces'
import { shippedFiles } from './shipped-files'

type Maker = typeof import('pdfmake')

let maker: Promise<Maker> | null = null

/**
 * The maker with its font, its ways to the network and the disk closed. Loaded with the first document: it is large.
 */
async function loadMaker(): Promise<Maker> {
  const { default: pdfmake } = await import('pdfmake')
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
  return pdfmake
}

/** A document as PDF. */
export async function makePdf(document: TDocumentDefinitions): Promise<Buffer> {
  maker ??= loadMaker()
  return ((await maker).createPdf(document) as unknown as { getBuffer(): Promise<Buffer> }).getBuffer()
}

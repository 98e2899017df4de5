import {
  BarcodeFormat,
  BinaryBitmap,
  DecodeHintType,
  HybridBinarizer,
  MultiFormatReader,
  RGBLuminanceSource,
} from '@zxing/library'
import bwip from 'bwip-js/node'
import sharp from 'sharp'
import { describe, expect, it } from 'vitest'
import { byScan } from '~~/server/services/catalogue/find'
import { symbolFor } from '~~/server/services/catalogue/labels'
import { withDemo } from './database'

withDemo()

const FORMATS = {
  'Code 128': BarcodeFormat.CODE_128,
  QR: BarcodeFormat.QR_CODE,
  'GS1 DataMatrix': BarcodeFormat.DATA_MATRIX,
} as const

/** Reads a symbol from its picture by an independent library (ZXing), as a scanner would. */
async function scan(kind: keyof typeof FORMATS, text: string): Promise<string> {
  const drawn = await bwip.toBuffer({ ...symbolFor(kind, text), scale: 4, padding: 12, backgroundcolor: 'FFFFFF' })
  const { data, info } = await sharp(drawn).greyscale().removeAlpha().raw().toBuffer({ resolveWithObject: true })
  const grey = new Uint8ClampedArray(data)
  const reader = new MultiFormatReader()
  reader.setHints(
    new Map<DecodeHintType, unknown>([
      [DecodeHintType.POSSIBLE_FORMATS, [FORMATS[kind]]],
      [DecodeHintType.TRY_HARDER, true],
    ]),
  )
  return reader
    .decode(new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(grey, info.width, info.height))))
    .getText()
}

describe('what is printed on a label is read by a scanner, and finds the item and the unit', () => {
  it.each([
    ['Code 128', '9520000000011', 'NB-A5-NAVY', 'piece'],
    ['Code 128', '19520000000018', 'NB-A5-NAVY', 'carton'],
    ['Code 128', 'GLUE-TUB', 'GLUE-TUB', null],
    ['QR', '9520000000028', 'NB-A5-RED', 'piece'],
    ['QR', 'CLOTH-NAVY', 'CLOTH-NAVY', null],
    ['GS1 DataMatrix', '19520000000018', 'NB-A5-NAVY', 'carton'],
    ['GS1 DataMatrix', '9520000000028', 'NB-A5-RED', 'piece'],
  ] as const)('%s of %s', async (kind, text, code, unit) => {
    expect((await byScan(await scan(kind, text)))[0]).toMatchObject({ code, unit })
  })
})

import { eq } from 'drizzle-orm'
import { db, type Tx } from '~~/server/database/client'
import { batches, pictures } from '~~/server/database/schema'
import { Refusal } from '~~/server/utils/refusal'
import type { Actor } from '~~/server/utils/route'
import { refusalOf, saveAll, shapeOf } from './definitions'
import { loadItems } from './definitions/item-store'
import { loadNames } from './tables/names'

const LARGEST = 40_000_000
const FULL = 1200
const SMALL = 96

/**
 * Takes a picture in: read by its content whatever its name says, turned upright, made no larger than a screen asks
 * for, and kept as JPEG, so that nothing of the file but its pixels is stored.
 *
 * Errors: `invalid-input` for what is no picture, or one of more than 40 million pixels.
 */
export async function keepPicture(content: Buffer, writer: Pick<Tx, 'insert'> = db): Promise<{ id: number }> {
  if (pixelsOf(content) > LARGEST) {
    throw new Refusal('invalid-input', 'The picture has more than 40 million pixels. Make it smaller first.', {
      content: 'The picture has more than 40 million pixels. Make it smaller first.',
    })
  }
  // Loaded with the first use: it is large, and few requests want it.
  const { Jimp } = await import('jimp')
  const picture = await Jimp.read(content).catch(() => {
    throw new Refusal('invalid-input', 'This is no picture that can be read. Choose a PNG, JPEG, GIF or BMP file.', {
      content: 'This is no picture that can be read. Choose a PNG, JPEG, GIF or BMP file.',
    })
  })
  const ground = new Jimp({ width: picture.width, height: picture.height, color: 0xffffffff }).composite(picture)
  const full = ground.width > FULL || ground.height > FULL ? ground.scaleToFit({ w: FULL, h: FULL }) : ground
  const small = full.clone().cover({ w: SMALL, h: SMALL })
  const [made] = await writer
    .insert(pictures)
    .values({
      width: full.width,
      height: full.height,
      full: await full.getBuffer('image/jpeg', { quality: 82 }),
      small: await small.getBuffer('image/jpeg', { quality: 78 }),
    })
    .returning({ id: pictures.id })
  return made!
}

/** Width × height as the head of the file says, before anything is unpacked: a small file can claim to be endless. */
function pixelsOf(content: Buffer): number {
  if (content.length < 30) {
    return 0
  }
  if (content.readUInt32BE(0) === 0x89504e47) {
    return content.readUInt32BE(16) * content.readUInt32BE(20)
  }
  if (content.toString('latin1', 0, 3) === 'GIF') {
    return content.readUInt16LE(6) * content.readUInt16LE(8)
  }
  if (content.toString('latin1', 0, 2) === 'BM') {
    return Math.abs(content.readInt32LE(18) * content.readInt32LE(22))
  }
  return content.readUInt16BE(0) === 0xffd8 ? pixelsOfJpeg(content) : 0
}

/** A JPEG states its size in its frame header (ITU-T T.81, B.2.2), behind segments that each say how long they are. */
function pixelsOfJpeg(content: Buffer): number {
  for (
    let index = 2;
    index + 9 < content.length && content[index] === 0xff;
    index += 2 + content.readUInt16BE(index + 2)
  ) {
    const marker = content[index + 1]!
    if (marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker)) {
      return content.readUInt16BE(index + 5) * content.readUInt16BE(index + 7)
    }
  }
  return 0
}

export async function loadPicture(id: number, size: 'full' | 'small'): Promise<Buffer> {
  const [row] = await db
    .select({ bytes: size === 'full' ? pictures.full : pictures.small })
    .from(pictures)
    .where(eq(pictures.id, id))
  if (!row) {
    throw new Refusal('not-found', 'There is no such picture.')
  }
  return row.bytes
}

export interface PictureFile {
  readonly name: string
  readonly content: Buffer
}

/**
 * Gives items pictures from files that are named by their codes (`NB-A5-RED.jpg`), all of them or none; taken back
 * together.
 *
 * Errors: `invalid-input` beside `files.n` for a name that is no item's code, and for what is no picture.
 */
export async function picturesOfItems(
  tx: Tx,
  actor: Actor,
  files: readonly PictureFile[],
): Promise<{ batchId: number; changed: number }> {
  const names = await loadNames(tx, ['items'])
  const fields: Record<string, string> = {}
  const ids = files.map(({ name }, index) => {
    const code = name.replace(/\.[a-z]+$/i, '')
    const id = names.idOf('items', code)
    if (id === undefined) {
      fields[`files.${index}`] = `There is no item “${code}”. Name each picture by the code of its item.`
    }
    return id ?? 0
  })
  if (Object.keys(fields).length > 0) {
    throw new Refusal('invalid-input', Object.values(fields)[0]!, fields)
  }
  const kept = new Map<number, number>()
  for (const [index, { content }] of files.entries()) {
    kept.set(ids[index]!, (await keepPicture(content, tx)).id)
  }
  const [batch] = await tx
    .insert(batches)
    .values({ kind: 'set', table: 'items', label: `${files.length} pictures`, userId: actor.userId, state: 'done' })
    .returning({ id: batches.id })
  const edits = (await loadItems(tx, [...kept.keys()])).map(({ id, version, ...definition }) => {
    void version
    return { id, version: null, definition: { ...definition, pictureId: kept.get(id)! } }
  })
  const saved = await saveAll(tx, actor, shapeOf('items'), edits, { batchId: batch!.id })
  if (!saved.ok) {
    throw refusalOf(saved.error)
  }
  return { batchId: batch!.id, changed: saved.value.changed }
}
